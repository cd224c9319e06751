/** A mesh as something that can be drawn: flat-shaded surface, wire, and what is picked, in the colours of the theme. */
import {
  BufferAttribute,
  BufferGeometry,
  DirectionalLight,
  Group,
  HemisphereLight,
  LineBasicMaterial,
  LineSegments,
  type Material,
  Mesh,
  MeshBasicMaterial,
  MeshLambertMaterial,
  type Plane,
  Points,
  PointsMaterial,
} from 'three';
import { LineMaterial } from 'three/examples/jsm/lines/LineMaterial.js';
import { LineSegments2 } from 'three/examples/jsm/lines/LineSegments2.js';
import { LineSegmentsGeometry } from 'three/examples/jsm/lines/LineSegmentsGeometry.js';
import { preferencesStore } from '../stores/preferencesStore';
import type { MeshPayload } from './meshPayload';
import { patternMaterial, setColour } from './patterns';
import { endsOf, flatSurface, placeOf } from './surface';
import { isNight, themeColour } from './theme';

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
const PLANNED_EDGE_PX = 2;
const HARD_EDGE_PX = 2.2;
const IS_HARD = 2;
const IS_CREASE = 8;
/** Creases are drawn in dashes, so many over the part. */
const DASHES = 120;
/** Of more edges than these the bold ones would be the whole picture. */
const MOST_PLANNED_EDGES = 20_000;
/** If more of the edges than this share seem to have changed, the vertices were numbered anew. */
const MOST_CHANGED = 0.6;
const HALO_PX = 2.4;
/** From edges of this length on the wire has its whole strength; it never gets fainter than this share of it. */
const WHOLE_WIRE_FROM_PX = 9;
const FAINTEST_WIRE = 0.12;
/** What is left of the strength of the wire behind a plan. */
const RECEDED = 0.4;
const EDGES_LOOKED_AT = 2000;

export class PartObject extends Group {
  private readonly surface: Mesh<BufferGeometry, MeshLambertMaterial>;
  private readonly wire: LineSegments<BufferGeometry, LineBasicMaterial>;
  private readonly hatch = new Mesh(new BufferGeometry(), patternMaterial('hatch'));
  private readonly tinted = new Mesh(
    new BufferGeometry(),
    new MeshBasicMaterial({ transparent: true, opacity: 0.17, depthWrite: false }),
  );
  private readonly lines = new LineSegments2(new LineSegmentsGeometry(), new LineMaterial());
  /** Sets picked edges off from a part that is as bright as they are. */
  private readonly lineHalo = new LineSegments2(new LineSegmentsGeometry(), new LineMaterial({ depthWrite: false }));
  private readonly hard = new LineMaterial({ linewidth: HARD_EDGE_PX });
  private readonly crease = new LineMaterial({ linewidth: HARD_EDGE_PX, dashed: true });
  private readonly dotHalo = new Points(
    new BufferGeometry(),
    new PointsMaterial({ size: PICKED_VERTEX_PX + HALO_PX, sizeAttenuation: false, depthWrite: false }),
  );
  private readonly dots = new Points(
    new BufferGeometry(),
    new PointsMaterial({ size: PICKED_VERTEX_PX, sizeAttenuation: false }),
  );

  /** How strong the wire is where it is not faded. */
  private strength = 1;
  private readonly bold: 'thread' | 'tide';
  private readonly usualEdge: number;

  /** Set back behind what is planned: only a faint wire is left of it. */
  private receded = false;

  constructor(
    private readonly mesh: MeshPayload,
    /** The mesh it would be made of, if it shows what is planned: edges that are new or lie elsewhere are drawn in thread. */
    before: MeshPayload | null = null,
  ) {
    super();
    this.usualEdge = usualEdgeOf(mesh);
    const material = new MeshLambertMaterial({ polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 });
    this.surface = new Mesh(flatSurface(mesh, null), material);
    const lines = new BufferGeometry();
    lines.setAttribute('position', new BufferAttribute(mesh.places, 3));
    lines.setIndex(new BufferAttribute(mesh.edges, 1));
    this.wire = new LineSegments(lines, new LineBasicMaterial({ transparent: true }));
    for (const drawn of [this.hatch, this.tinted, this.lineHalo, this.dotHalo, this.lines, this.dots]) {
      drawn.visible = false;
      drawn.frustumCulled = false;
      this.add(drawn);
    }
    if (!before) this.add(boldEdges(mesh, IS_HARD, this.hard), boldEdges(mesh, IS_CREASE, this.crease));
    for (const drawn of [this.lines, this.dots]) drawn.renderOrder = 1;
    this.add(this.surface, this.wire);
    this.bold = before ? 'thread' : 'tide';
    if (before) this.showLines(changedEdges(before, mesh), PLANNED_EDGE_PX);
    this.position.set(...mesh.origin);
    this.paint();
  }

  /** Take the colours of the theme that is on. */
  paint(): void {
    const tide = themeColour('tide');
    this.hard.color = themeColour(isNight() ? 'paper' : 'ink');
    this.crease.color = this.hard.color;
    this.surface.material.color = themeColour('bone');
    this.wire.material.color = themeColour(isNight() ? 'paper' : 'ink');
    setColour(this.hatch.material, 'tide');
    this.tinted.material.color = themeColour('thread');
    this.lines.material.color = themeColour(this.bold);
    this.dots.material.color = tide;
    for (const halo of [this.lineHalo, this.dotHalo]) halo.material.color = themeColour('paper');
    this.showHalos();
  }

  /** Draw some edges bold. */
  private showLines(edges: number[], width: number): void {
    const ends = endsOf(this.mesh, edges);
    this.lines.geometry.dispose();
    this.lines.geometry = new LineSegmentsGeometry();
    if (ends.length) this.lines.geometry.setPositions(ends);
    this.lines.visible = ends.length > 0;
    this.lines.material.linewidth = width;
    this.lineHalo.geometry = this.lines.geometry;
    this.lineHalo.material.linewidth = width + HALO_PX;
  }

  /** By night what is picked is nearly as bright as the part. */
  private showHalos(): void {
    this.lineHalo.visible = isNight() && this.lines.visible;
    this.dotHalo.visible = isNight() && this.dots.visible;
  }

  show(look: Look): void {
    this.wire.visible = look.wire || look.seeThrough;
    this.strength = look.seeThrough ? 0.5 : 0.62;
    this.surface.material.transparent = look.seeThrough;
    this.surface.material.opacity = look.seeThrough ? 0.4 : 1;
    this.surface.material.depthWrite = !look.seeThrough;
    this.surface.material.needsUpdate = true;
  }

  /** Leave surface and wire to what is drawn in their place; what is picked stays. */
  standBack(behind: boolean, moved: boolean): void {
    this.surface.material.visible = !behind;
    this.wire.material.visible = !behind;
    // On the smooth form hard edges lie elsewhere.
    this.hard.visible = !moved;
    this.crease.visible = !moved;
  }

  /** Leave only a faint wire, behind what is planned; or be drawn in full again. */
  recede(behind: boolean): void {
    this.receded = behind;
    for (const drawn of [this.surface, this.hatch, this.tinted, this.lines, this.lineHalo, this.dots, this.dotHalo])
      drawn.material.visible = !behind;
  }

  /** Fade the wire where its edges are only a few pixels long: it would be a dark blob. `scale` is pixels for a length of 1. */
  fade(scale: number): void {
    const share = Math.min(1, Math.max(0, (this.usualEdge * scale) / WHOLE_WIRE_FROM_PX));
    const { wire } = preferencesStore.getState();
    this.wire.material.opacity = Math.min(
      1,
      this.strength * wire * Math.max(FAINTEST_WIRE, share) * (this.receded ? RECEDED : 1),
    );
  }

  /** Mark what is picked: faces hatched, edges as bold lines, vertices as dots. */
  pick({ vertices, edges, faces }: PickedElements): void {
    const { mesh } = this;
    this.hatch.geometry.dispose();
    this.hatch.geometry = flatSurface(mesh, new Set(faces));
    this.hatch.visible = faces.length > 0;
    this.showLines(edges, PICKED_EDGE_PX);
    this.dots.geometry.dispose();
    this.dots.geometry = new BufferGeometry();
    const places = new Float32Array(vertices.flatMap((vertex) => placeOf(mesh, vertex)));
    this.dots.geometry.setAttribute('position', new BufferAttribute(places, 3));
    this.dots.visible = vertices.length > 0;
    this.dotHalo.geometry = this.dots.geometry;
    this.showHalos();
  }

  /** Tint the faces that a planned loop runs over. */
  tint(faces: number[]): void {
    this.tinted.geometry.dispose();
    this.tinted.geometry = flatSurface(this.mesh, new Set(faces));
    this.tinted.visible = faces.length > 0;
  }

  /** Leave the surface out where one of some planes does not look; with none, draw all of it. */
  clip(planes: Plane[]): void {
    this.surface.material.clippingPlanes = planes;
    this.surface.material.needsUpdate = true;
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
    for (const material of [this.lines.material, this.lineHalo.material, this.hard, this.crease])
      material.resolution.set(width, height);
  }

  override dispose(): void {
    for (const drawn of this.children as Mesh[]) {
      drawn.geometry?.dispose();
      (drawn.material as Material | undefined)?.dispose();
    }
  }
}

/** The edges of a mesh that have a flag, as bold lines. */
function boldEdges(mesh: MeshPayload, flag: number, material: LineMaterial): LineSegments2 {
  const hard: number[] = [];
  mesh.edgeFlags.forEach((flags, edge) => {
    if (flags & flag) hard.push(edge);
  });
  const lines = new LineSegments2(new LineSegmentsGeometry(), material);
  lines.visible = hard.length > 0;
  if (lines.visible) {
    lines.geometry.setPositions(endsOf(mesh, hard));
    if (material.dashed) {
      lines.computeLineDistances();
      lines.geometry.computeBoundingSphere();
      material.dashSize = (lines.geometry.boundingSphere?.radius ?? 1) / DASHES;
      material.gapSize = material.dashSize;
    }
  }
  lines.frustumCulled = false;
  return lines;
}

/** The length that half of the edges are shorter than, told from some of them. */
function usualEdgeOf({ edges, places }: MeshPayload): number {
  const step = Math.max(1, Math.floor(edges.length / 2 / EDGES_LOOKED_AT));
  const lengths: number[] = [];
  for (let edge = 0; 2 * edge < edges.length; edge += step) {
    const [a = 0, b = 0] = [edges[2 * edge], edges[2 * edge + 1]];
    const along = [0, 1, 2].map((k) => (places[3 * a + k] ?? 0) - (places[3 * b + k] ?? 0));
    lengths.push(Math.hypot(...along));
  }
  lengths.sort((a, b) => a - b);
  return lengths[lengths.length >> 1] ?? 0;
}

/** The edges of a mesh that the one before has not, or not there; none where it was numbered anew. */
function changedEdges(before: MeshPayload, mesh: MeshPayload): number[] {
  const same = before.origin.every((x, k) => x === mesh.origin[k]);
  if (!same || before.places.length > mesh.places.length) return [];
  const count = mesh.places.length / 3;
  const known = new Set<number>();
  for (let at = 0; at < before.edges.length; at += 2)
    known.add((before.edges[at] ?? 0) * count + (before.edges[at + 1] ?? 0));
  const lies = ({ places }: MeshPayload, vertex: number, k: number) => places[3 * vertex + k];
  const stayed = (vertex: number): boolean =>
    3 * vertex < before.places.length && [0, 1, 2].every((k) => lies(before, vertex, k) === lies(mesh, vertex, k));
  const found: number[] = [];
  for (let at = 0; at < mesh.edges.length; at += 2) {
    const [a = 0, b = 0] = [mesh.edges[at], mesh.edges[at + 1]];
    if (!known.has(a * count + b) || !stayed(a) || !stayed(b)) found.push(at / 2);
  }
  if (found.length > MOST_CHANGED * (mesh.edges.length / 2)) return betweenNewPlaces(before, mesh);
  return found.length > MOST_PLANNED_EDGES ? [] : found;
}

/** The edges of a mesh whose vertices were numbered anew that join two places where there was no vertex. */
function betweenNewPlaces(before: MeshPayload, mesh: MeshPayload): number[] {
  const key = ({ places }: MeshPayload, vertex: number): string =>
    `${places[3 * vertex]} ${places[3 * vertex + 1]} ${places[3 * vertex + 2]}`;
  const known = new Set<string>();
  for (let vertex = 0; 3 * vertex < before.places.length; vertex++) known.add(key(before, vertex));
  const isNew = Array.from({ length: mesh.places.length / 3 }, (_, vertex) => !known.has(key(mesh, vertex)));
  const found: number[] = [];
  for (let at = 0; at < mesh.edges.length; at += 2)
    if (isNew[mesh.edges[at] ?? 0] && isNew[mesh.edges[at + 1] ?? 0]) found.push(at / 2);
  return found.length > MOST_PLANNED_EDGES ? [] : found;
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
