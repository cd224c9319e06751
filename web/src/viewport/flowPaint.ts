/** The flow view: n-gons hatched, triangles dotted, poles ringed with their valence, loose ends and open borders. */
import {
  BufferAttribute,
  BufferGeometry,
  CanvasTexture,
  Group,
  LinearFilter,
  type Material,
  Mesh,
  Points,
  PointsMaterial,
  type ShaderMaterial,
} from 'three';
import { LineMaterial } from 'three/examples/jsm/lines/LineMaterial.js';
import { LineSegments2 } from 'three/examples/jsm/lines/LineSegments2.js';
import { LineSegmentsGeometry } from 'three/examples/jsm/lines/LineSegmentsGeometry.js';
import type { Schemas } from '../api/client';
import type { MeshPayload } from './meshPayload';
import { type Pattern, patternMaterial, setColour } from './patterns';
import { endsOf, flatSurface } from './surface';
import { themeColour } from './theme';

type Flow = Schemas['FlowOut'];
type Place = [number, number, number];

const SIGN_PX = 21;
/** A sign stands before its vertex by this share of the part's size. */
const SIGN_BEFORE = 0.025;
const BORDER_PX = 2.6;

export class FlowPaint extends Group {
  /** About the longest side of the part. */
  private readonly size: number;
  private readonly border = new LineMaterial({ linewidth: BORDER_PX });

  constructor(
    private readonly mesh: MeshPayload,
    private readonly flow: Flow,
    /** How well faces are formed is painted in place of the flow. */
    private readonly quality: Schemas['QualityOut'] | null,
  ) {
    super();
    this.size = 2 * mesh.places.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    this.paint();
  }

  /** Draw everything in the colours of the theme that is on. */
  paint(): void {
    this.dispose();
    this.clear();
    if (this.quality) {
      const [weak = [], poor = [], bad = []] = this.quality.faces;
      this.hatch(weak, 'wideHatch', 'soft');
      this.hatch(poor, 'hatch', 'soft');
      this.hatch(bad, 'closeHatch', 'ochre');
      return;
    }
    this.hatch(this.flow.ngons, 'backHatch', 'ochre');
    this.hatch(this.flow.triangles, 'dots', 'soft');
    this.hatch(this.flow.warped, 'hatch', 'soft');
    this.hatch(this.flow.folded, 'hatch', 'ochre');
    const byValence = new Map<number, Place[]>();
    for (const { at, valence } of this.flow.poles)
      byValence.set(valence, [...(byValence.get(valence) ?? []), at as Place]);
    for (const [valence, places] of byValence) this.signs(places, String(valence));
    this.signs(this.flow.stray as Place[], '×');
    this.signs(this.flow.t_junctions as Place[], 'T');
    const ends = endsOf(this.mesh, this.flow.borders);
    if (ends.length === 0) return;
    const geometry = new LineSegmentsGeometry();
    geometry.setPositions(ends);
    this.border.color = themeColour('ochre');
    this.add(new LineSegments2(geometry, this.border));
  }

  fitTo(width: number, height: number): void {
    this.border.resolution.set(width, height);
  }

  override dispose(): void {
    for (const drawn of this.children as Mesh[]) {
      drawn.geometry.dispose();
      const material = drawn.material as Material;
      // What a sign is drawn from is not given back with it.
      if (material instanceof PointsMaterial) material.map?.dispose();
      material.dispose();
    }
  }

  private hatch(faces: number[], pattern: Pattern, colour: 'ochre' | 'soft'): void {
    if (faces.length === 0) return;
    const material: ShaderMaterial = patternMaterial(pattern);
    setColour(material, colour);
    this.add(new Mesh(flatSurface(this.mesh, new Set(faces)), material));
  }

  /** A small ring with a sign at some places, hidden where the part is before it. */
  private signs(places: Place[], sign: string): void {
    if (places.length === 0) return;
    const [x, y, z] = this.mesh.origin;
    const local = new Float32Array(places.flatMap((p) => [p[0] - x, p[1] - y, p[2] - z]));
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(local, 3));
    const material = new PointsMaterial({ map: ringed(sign), size: SIGN_PX, sizeAttenuation: false, alphaTest: 0.4 });
    // A sign stands just before its vertex, so that the faces round it do not cut it off.
    material.onBeforeCompile = (shader) => {
      shader.vertexShader = shader.vertexShader.replace(
        '#include <project_vertex>',
        `#include <project_vertex>
        vec4 nearer = projectionMatrix * (mvPosition + vec4(0.0, 0.0, ${(SIGN_BEFORE * this.size).toFixed(6)}, 0.0));
        gl_Position.z = nearer.z / nearer.w * gl_Position.w;`,
      );
    };
    const drawn = new Points(geometry, material);
    drawn.frustumCulled = false;
    this.add(drawn);
  }
}

function ringed(sign: string): CanvasTexture {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = 2 * SIGN_PX;
  const pen = canvas.getContext('2d');
  if (pen) {
    const style = (name: 'card' | 'ink'): string => `#${themeColour(name).getHexString()}`;
    pen.beginPath();
    pen.arc(SIGN_PX, SIGN_PX, SIGN_PX - 3, 0, 2 * Math.PI);
    pen.fillStyle = style('card');
    pen.fill();
    pen.lineWidth = 3.2;
    pen.strokeStyle = style('ink');
    pen.stroke();
    pen.fillStyle = style('ink');
    pen.font = '700 27px "Source Sans 3 Variable", sans-serif';
    pen.textAlign = 'center';
    pen.textBaseline = 'middle';
    pen.fillText(sign, SIGN_PX, SIGN_PX + 2);
  }
  const texture = new CanvasTexture(canvas);
  texture.colorSpace = 'srgb';
  texture.generateMipmaps = false;
  texture.minFilter = LinearFilter;
  return texture;
}
