/** A part shaded by hard and soft edges, or as its smooth form, in place of its facets. */
import {
  BufferAttribute,
  BufferGeometry,
  Group,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshLambertMaterial,
} from 'three';
import type { ShadedPayload } from './meshPayload';
import type { Look } from './partObject';
import { isNight, themeColour } from './theme';

export class ShadedObject extends Group {
  private readonly surface: Mesh<BufferGeometry, MeshLambertMaterial>;
  private readonly wire: LineSegments<BufferGeometry, LineBasicMaterial>;

  constructor({ origin, places, normals, triangles, wire }: ShadedPayload) {
    super();
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(places, 3));
    geometry.setAttribute('normal', new BufferAttribute(normals, 3));
    geometry.setIndex(new BufferAttribute(triangles, 1));
    const material = new MeshLambertMaterial({ polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 });
    this.surface = new Mesh(geometry, material);
    const lines = new BufferGeometry();
    if (wire instanceof Float32Array) lines.setAttribute('position', new BufferAttribute(wire, 3));
    else {
      lines.setAttribute('position', geometry.getAttribute('position'));
      lines.setIndex(new BufferAttribute(wire, 1));
    }
    this.wire = new LineSegments(lines, new LineBasicMaterial({ transparent: true, opacity: 0.5 }));
    this.add(this.surface, this.wire);
    this.position.set(...origin);
    this.paint();
  }

  paint(): void {
    this.surface.material.color = themeColour('bone');
    this.wire.material.color = themeColour(isNight() ? 'paper' : 'ink');
  }

  show({ wire, seeThrough }: Look): void {
    this.wire.visible = wire || seeThrough;
    this.surface.material.transparent = seeThrough;
    this.surface.material.opacity = seeThrough ? 0.4 : 1;
    this.surface.material.depthWrite = !seeThrough;
    this.surface.material.needsUpdate = true;
  }

  override dispose(): void {
    for (const drawn of [this.surface, this.wire]) {
      drawn.geometry.dispose();
      drawn.material.dispose();
    }
  }
}
