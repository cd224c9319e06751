/** Where the smooth form moves by a plan: hatched, the denser the further. */
import { BufferAttribute, BufferGeometry, Group, Mesh, type ShaderMaterial } from 'three';
import type { ShadedPayload } from './meshPayload';
import { type Pattern, patternMaterial, setColour } from './patterns';

/** From which share of the longest way on each hatch is laid. */
const DENSITIES: [number, Pattern][] = [
  [0.08, 'wideHatch'],
  [0.33, 'hatch'],
  [0.66, 'closeHatch'],
];

export class MovePaint extends Group {
  private readonly hatched: Mesh<BufferGeometry, ShaderMaterial>[];

  constructor({ origin, places, triangles }: ShadedPayload, moves: Float32Array, most: number) {
    super();
    const shared = new BufferAttribute(places, 3);
    this.hatched = DENSITIES.map(([from, pattern], level) => {
      const below = DENSITIES[level + 1]?.[0] ?? Number.POSITIVE_INFINITY;
      const wanted: number[] = [];
      for (let t = 0; t < triangles.length; t += 3) {
        const [a = 0, b = 0, c = 0] = triangles.subarray(t, t + 3);
        const share = ((moves[a] ?? 0) + (moves[b] ?? 0) + (moves[c] ?? 0)) / (3 * most);
        if (share >= from && share < below) wanted.push(a, b, c);
      }
      const geometry = new BufferGeometry();
      geometry.setAttribute('position', shared);
      geometry.setIndex(wanted);
      const hatched = new Mesh(geometry, patternMaterial(pattern));
      hatched.renderOrder = 1;
      return hatched;
    });
    this.add(...this.hatched);
    this.position.set(...origin);
    this.paint();
  }

  paint(): void {
    for (const { material } of this.hatched) setColour(material, 'thread');
  }

  override dispose(): void {
    for (const { geometry, material } of this.hatched) {
      geometry.dispose();
      material.dispose();
    }
  }
}
