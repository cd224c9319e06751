/** A mesh as something that can be drawn: flat-shaded surface and wire, in the colours of the theme. */
import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DirectionalLight,
  Group,
  HemisphereLight,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshLambertMaterial,
} from 'three';
import type { MeshPayload } from './meshPayload';

export interface Look {
  wire: boolean;
  seeThrough: boolean;
}

export class PartObject extends Group {
  private readonly surface: Mesh<BufferGeometry, MeshLambertMaterial>;
  private readonly wire: LineSegments<BufferGeometry, LineBasicMaterial>;

  constructor(mesh: MeshPayload) {
    super();
    const material = new MeshLambertMaterial({ polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 });
    this.surface = new Mesh(flatSurface(mesh), material);
    const lines = new BufferGeometry();
    lines.setAttribute('position', new BufferAttribute(mesh.places, 3));
    lines.setIndex(new BufferAttribute(mesh.edges, 1));
    this.wire = new LineSegments(lines, new LineBasicMaterial({ transparent: true }));
    this.add(this.surface, this.wire);
    this.position.set(...mesh.origin);
    this.paint();
  }

  /** Take the colours of the theme that is on. */
  paint(): void {
    this.surface.material.color = themeColor('--color-bone');
    this.wire.material.color = themeColor(isNight() ? '--color-paper' : '--color-ink');
  }

  show(look: Look): void {
    this.wire.visible = look.wire || look.seeThrough;
    this.wire.material.opacity = look.seeThrough ? 0.5 : 0.62;
    this.surface.material.transparent = look.seeThrough;
    this.surface.material.opacity = look.seeThrough ? 0.4 : 1;
    this.surface.material.depthWrite = !look.seeThrough;
    this.surface.material.needsUpdate = true;
  }

  override dispose(): void {
    for (const drawn of [this.surface, this.wire]) {
      drawn.geometry.dispose();
      drawn.material.dispose();
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

function flatSurface(mesh: MeshPayload): BufferGeometry {
  const { places, triangles } = mesh;
  const corners = new Float32Array(triangles.length * 3);
  for (let c = 0; c < triangles.length; c++) {
    const v = 3 * (triangles[c] as number);
    corners[3 * c] = places[v] as number;
    corners[3 * c + 1] = places[v + 1] as number;
    corners[3 * c + 2] = places[v + 2] as number;
  }
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(corners, 3));
  geometry.computeVertexNormals();
  return geometry;
}

function isNight(): boolean {
  return document.documentElement.dataset.theme === 'night';
}

function themeColor(name: string): Color {
  return new Color(getComputedStyle(document.documentElement).getPropertyValue(name).trim() || '#888');
}
