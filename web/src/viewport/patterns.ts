/** Patterns on the screen rather than on the surface, so that shading and wire stay readable beneath. */
import { Color, ShaderMaterial, type Vector4 } from 'three';

export type Pattern = 'hatch' | 'backHatch' | 'cross' | 'dots';

/** Where a fragment is left out, by its place on the screen. */
const LEFT_OUT: Record<Pattern, string> = {
  hatch: 'mod(p.x + p.y, 8.0) > 2.0',
  backHatch: 'mod(p.x - p.y, 9.0) > 1.2',
  cross: 'mod(p.x + p.y, 13.0) > 1.4 && mod(p.x - p.y, 13.0) > 1.4',
  dots: 'length(mod(p + vec2(0.0, 3.5 * mod(floor(p.x / 7.0), 2.0)), 7.0) - 3.5) > 1.5',
};

/** A pattern in one colour; with planes only where one of them looks, in the part's own places. */
export function patternMaterial(pattern: Pattern, planes: Vector4[] = []): ShaderMaterial {
  const seen = planes.map((_, k) => `dot(vec4(place, 1.0), plane${k}) > 0.0`).join(' || ');
  return new ShaderMaterial({
    uniforms: {
      colour: { value: new Color() },
      ...Object.fromEntries(planes.map((plane, k) => [`plane${k}`, { value: plane }])),
    },
    vertexShader: `varying vec3 place;
      void main() {
        place = position;
        gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
      }`,
    fragmentShader: `uniform vec3 colour;
      ${planes.map((_, k) => `uniform vec4 plane${k};`).join('\n')}
      varying vec3 place;
      void main() {
        vec2 p = gl_FragCoord.xy;
        if (${LEFT_OUT[pattern]}) discard;
        ${seen ? `if (!(${seen})) discard;` : ''}
        gl_FragColor = vec4(colour, 1.0);
        #include <colorspace_fragment>
      }`,
  });
}

export function setColour(material: ShaderMaterial, colour: Color): void {
  (material.uniforms.colour as { value: Color }).value = colour;
}
