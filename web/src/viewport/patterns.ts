/** Patterns on the screen rather than on the surface, so that shading and wire stay readable beneath. */
import { Color, ShaderMaterial, type Vector4 } from 'three';
import { isNight, type ThemeColour, themeColour } from './theme';

export type Pattern = 'hatch' | 'wideHatch' | 'closeHatch' | 'backHatch' | 'cross' | 'dots';

/** How far a fragment is outside the lines or dots of a pattern, in pixels across them, by its place on the screen. */
const OUTSIDE: Record<Pattern, string> = {
  hatch: 'abs(mod(p.x + p.y, 8.0) - 4.0) - 1.0',
  wideHatch: 'abs(mod(p.x + p.y, 16.0) - 8.0) - 0.7',
  closeHatch: 'abs(mod(p.x + p.y, 4.5) - 2.25) - 0.9',
  backHatch: 'abs(mod(p.x - p.y, 9.0) - 4.5) - 0.7',
  cross: 'min(abs(mod(p.x + p.y, 13.0) - 6.5), abs(mod(p.x - p.y, 13.0) - 6.5)) - 0.7',
  dots: 'length(mod(p + vec2(0.0, 3.5 * mod(floor(p.x / 7.0), 2.0)), 7.0) - 3.5) - 1.5',
};
/** Pixels of the picture for one of the screen: patterns are as coarse in every picture. */
export const fineness = { value: 1 };
/** At night a pattern is nearly as bright as the part: a dark rim sets it off. */
const HALO_PX = 1.2;

/** A pattern in one colour; with planes only where one of them looks, in the part's own places. */
export function patternMaterial(pattern: Pattern, planes: Vector4[] = []): ShaderMaterial {
  const seen = planes.map((_, k) => `dot(vec4(place, 1.0), plane${k}) > 0.0`).join(' || ');
  return new ShaderMaterial({
    uniforms: {
      colour: { value: new Color() },
      halo: { value: new Color() },
      rim: { value: 0 },
      fineness,
      ...Object.fromEntries(planes.map((plane, k) => [`plane${k}`, { value: plane }])),
    },
    vertexShader: `varying vec3 place;
      void main() {
        place = position;
        gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
      }`,
    fragmentShader: `uniform vec3 colour;
      uniform vec3 halo;
      uniform float rim;
      uniform float fineness;
      ${planes.map((_, k) => `uniform vec4 plane${k};`).join('\n')}
      varying vec3 place;
      void main() {
        vec2 p = gl_FragCoord.xy / fineness;
        float outside = ${OUTSIDE[pattern]};
        if (outside > rim) discard;
        ${seen ? `if (!(${seen})) discard;` : ''}
        gl_FragColor = vec4(outside > 0.0 ? halo : colour, 1.0);
        #include <colorspace_fragment>
      }`,
  });
}

/** Draw a pattern in a colour of the theme that is on. */
export function setColour(material: ShaderMaterial, name: ThemeColour): void {
  const { colour, halo, rim } = material.uniforms as Record<string, { value: unknown }>;
  Object.assign(colour ?? {}, { value: themeColour(name) });
  Object.assign(halo ?? {}, { value: themeColour('paper') });
  Object.assign(rim ?? {}, { value: isNight() ? HALO_PX : 0 });
}
