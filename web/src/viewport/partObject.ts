/** A mesh as something that can be drawn: flat-shaded surface, wire, and what is picked, in the colours of the theme. */
import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DirectionalLight,
  Group,
  HemisphereLight,
  LineBasicMaterial,
  LineSegments,
  type Material,
  Mesh,
  MeshLambertMaterial,
  Points,
  PointsMaterial,
  ShaderMaterial,
} from 'three';
import { LineMaterial } from 'three/examples/jsm/lines/LineMaterial.js';
import { LineSegments2 } from 'three/examples/jsm/lines/LineSegments2.js';
import { LineSegmentsGeometry } from 'three/examples/jsm/lines/LineSegmentsGeometry.js';
import type { MeshPayload } from './meshPayload';

export interface Look {
  wire: boolean;
  seeThrough: boolean;
}

export interface PickedElements {
  vertices: number[];
  edges: number[];
  faces: number[];
}

const PICKED_EDGE_PX = 3.2;
const PICKED_VERTEX_PX = 9;

export class PartObject extends Group {
  private readonly surface: Mesh<BufferGeometry, MeshLambertMaterial>;
  private readonly wire: LineSegments<BufferGeometry, LineBasicMaterial>;
  private readonly hatch = new Mesh(new BufferGeometry(), hatchMaterial());
  private readonly lines = new LineSegments2(
    new LineSegmentsGeometry(),
    new LineMaterial({ linewidth: PICKED_EDGE_PX }),
  );
  private readonly dots = new Points(
    new BufferGeometry(),
    new PointsMaterial({ size: PICKED_VERTEX_PX, sizeAttenuation: false }),
  );

  constructor(private readonly mesh: MeshPayload) {
    super();
    const material = new MeshLambertMaterial({ polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 });
    this.surface = new Mesh(flatSurface(mesh, null), material);
    const lines = new BufferGeometry();
    lines.setAttribute('position', new BufferAttribute(mesh.places, 3));
    lines.setIndex(new BufferAttribute(mesh.edges, 1));
    this.wire = new LineSegments(lines, new LineBasicMaterial({ transparent: true }));
    for (const drawn of [this.hatch, this.lines, this.dots]) {
      drawn.visible = false;
      drawn.frustumCulled = false;
    }
    this.add(this.surface, this.wire, this.hatch, this.lines, this.dots);
    this.position.set(...mesh.origin);
    this.paint();
  }

  /** Take the colours of the theme that is on. */
  paint(): void {
    const tide = themeColor('--color-tide');
    this.surface.material.color = themeColor('--color-bone');
    this.wire.material.color = themeColor(isNight() ? '--color-paper' : '--color-ink');
    (this.hatch.material.uniforms.colour as { value: Color }).value = tide;
    this.lines.material.color = tide;
    this.dots.material.color = tide;
  }

  show(look: Look): void {
    this.wire.visible = look.wire || look.seeThrough;
    this.wire.material.opacity = look.seeThrough ? 0.5 : 0.62;
    this.surface.material.transparent = look.seeThrough;
    this.surface.material.opacity = look.seeThrough ? 0.4 : 1;
    this.surface.material.depthWrite = !look.seeThrough;
    this.surface.material.needsUpdate = true;
  }

  /** Mark what is picked: faces hatched, edges as bold lines, vertices as dots. */
  pick({ vertices, edges, faces }: PickedElements): void {
    const { mesh } = this;
    this.hatch.geometry.dispose();
    this.hatch.geometry = flatSurface(mesh, new Set(faces));
    this.hatch.visible = faces.length > 0;
    const ends = edges.flatMap((edge) => [
      ...placeOf(mesh, mesh.edges[2 * edge]),
      ...placeOf(mesh, mesh.edges[2 * edge + 1]),
    ]);
    this.lines.geometry.dispose();
    this.lines.geometry = new LineSegmentsGeometry();
    if (ends.length) this.lines.geometry.setPositions(ends);
    this.lines.visible = ends.length > 0;
    this.dots.geometry.dispose();
    this.dots.geometry = new BufferGeometry();
    const places = new Float32Array(vertices.flatMap((vertex) => placeOf(mesh, vertex)));
    this.dots.geometry.setAttribute('position', new BufferAttribute(places, 3));
    this.dots.visible = vertices.length > 0;
  }

  /** Draw only some faces and the edges round them; null for all. */
  reveal(shown: number[] | null): void {
    const { mesh } = this;
    const faces = shown && new Set(shown);
    this.surface.geometry.dispose();
    this.surface.geometry = flatSurface(mesh, faces);
    this.wire.geometry.setIndex(new BufferAttribute(faces ? edgesOf(mesh, faces) : mesh.edges, 1));
  }

  /** The width in pixels that bold lines are measured against. */
  fitTo(width: number, height: number): void {
    this.lines.material.resolution.set(width, height);
  }

  override dispose(): void {
    for (const drawn of [this.surface, this.wire, this.hatch, this.lines, this.dots]) {
      drawn.geometry.dispose();
      (drawn.material as Material).dispose();
    }
  }
}

/** Lights that travel with the camera, so that the form reads alike from every side. */
export function lights(): Group {
  const group = new Group();
  const sky = new HemisphereLight(0xffffff, 0xb8ab97, 1.75);
  const lamp = new DirectionalLight(0xffffff, 1.55);
  lamp.position.set(-0.5, 0.75, 1);
  group.add(sky, lamp);
  return group;
}

/** The triangles of all faces, or of some, each with corners of its own. */
function flatSurface(mesh: MeshPayload, faces: Set<number> | null): BufferGeometry {
  const { places, triangles, triangleFaces } = mesh;
  const wanted: number[] = [];
  for (let t = 0; t < triangleFaces.length; t++) if (!faces || faces.has(triangleFaces[t] as number)) wanted.push(t);
  const corners = new Float32Array(wanted.length * 9);
  wanted.forEach((t, k) => {
    for (let c = 0; c < 3; c++) {
      const v = 3 * (triangles[3 * t + c] as number);
      corners[9 * k + 3 * c] = places[v] as number;
      corners[9 * k + 3 * c + 1] = places[v + 1] as number;
      corners[9 * k + 3 * c + 2] = places[v + 2] as number;
    }
  });
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(corners, 3));
  geometry.computeVertexNormals();
  return geometry;
}

/** The edges of the mesh that are sides of the triangles of some faces. */
function edgesOf({ triangles, triangleFaces, edges, places }: MeshPayload, faces: Set<number>): Uint32Array {
  const count = places.length / 3;
  const sides = new Set<number>();
  for (let t = 0; t < triangleFaces.length; t++) {
    if (!faces.has(triangleFaces[t] as number)) continue;
    for (let c = 0; c < 3; c++) {
      const a = triangles[3 * t + c] as number;
      const b = triangles[3 * t + ((c + 1) % 3)] as number;
      sides.add(Math.min(a, b) * count + Math.max(a, b));
    }
  }
  const found: number[] = [];
  for (let e = 0; e < edges.length; e += 2) {
    const a = edges[e] as number;
    const b = edges[e + 1] as number;
    if (sides.has(a * count + b)) found.push(a, b);
  }
  return new Uint32Array(found);
}

function placeOf({ places }: MeshPayload, vertex: number | undefined): number[] {
  const at = 3 * (vertex ?? 0);
  return [places[at] as number, places[at + 1] as number, places[at + 2] as number];
}

/** Diagonal stripes on the screen, so that shading and wire stay readable beneath. */
function hatchMaterial(): ShaderMaterial {
  return new ShaderMaterial({
    uniforms: { colour: { value: new Color() } },
    vertexShader: 'void main() { gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }',
    fragmentShader: `uniform vec3 colour;
      void main() {
        if (mod(gl_FragCoord.x + gl_FragCoord.y, 8.0) > 2.0) discard;
        gl_FragColor = vec4(colour, 1.0);
        #include <colorspace_fragment>
      }`,
  });
}

function isNight(): boolean {
  return document.documentElement.dataset.theme === 'night';
}

function themeColor(name: string): Color {
  return new Color(getComputedStyle(document.documentElement).getPropertyValue(name).trim() || '#888');
}
