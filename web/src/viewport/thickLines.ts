/** Hairlines as lines of a width: in a picture finer than the screen a line of one pixel would be next to nothing. */
import { type LineBasicMaterial, LineSegments, type Object3D } from 'three';
import { LineMaterial } from 'three/examples/jsm/lines/LineMaterial.js';
import { LineSegments2 } from 'three/examples/jsm/lines/LineSegments2.js';
import { LineSegmentsGeometry } from 'three/examples/jsm/lines/LineSegmentsGeometry.js';

/** Of more lines than these each is short: they stay as fine as the picture. */
const MOST_LINES = 400_000;

/** How a line is laid over what is drawn already. */
const TAKEN_OVER = [
  'color',
  'opacity',
  'transparent',
  'depthWrite',
  'depthTest',
  'blending',
  'blendSrc',
  'blendDst',
  'blendSrcAlpha',
  'blendDstAlpha',
] as const;

/** Draw the hairlines of a scene a pixel of the screen wide, of which the picture has so many; gives back how to undo that. */
export function thickened(scene: Object3D, width: number, height: number): () => void {
  const found: LineSegments[] = [];
  scene.traverseVisible((one) => {
    if (one instanceof LineSegments && !(one instanceof LineSegments2)) found.push(one);
  });
  const twins = found.flatMap((line) => {
    const ends = endsOf(line);
    const material = line.material as LineBasicMaterial;
    if (ends.length === 0 || ends.length > 6 * MOST_LINES || !material.visible) return [];
    const thick = new LineMaterial({ linewidth: 1 });
    for (const name of TAKEN_OVER) Object.assign(thick, { [name]: material[name] });
    // What is marked lies in the same places, and over the wire.
    Object.assign(thick, { polygonOffset: true, polygonOffsetFactor: 0.5, polygonOffsetUnits: 0.5 });
    thick.resolution.set(width, height);
    const twin = new LineSegments2(new LineSegmentsGeometry(), thick);
    twin.geometry.setPositions(ends);
    twin.renderOrder = line.renderOrder;
    twin.frustumCulled = false;
    line.parent?.add(twin);
    return [{ line, twin }];
  });
  for (const { line } of twins) line.visible = false;
  return () => {
    for (const { line, twin } of twins) {
      line.visible = true;
      twin.parent?.remove(twin);
      twin.geometry.dispose();
      twin.material.dispose();
    }
  };
}

/** The ends of all lines, one after the other. */
function endsOf({ geometry }: LineSegments): Float32Array {
  const places = geometry.getAttribute('position');
  const { index } = geometry;
  if (!places) return new Float32Array();
  if (!index) return new Float32Array(places.array);
  const ends = new Float32Array(3 * index.count);
  for (let at = 0; at < index.count; at++) {
    const vertex = index.getX(at);
    ends.set([places.getX(vertex), places.getY(vertex), places.getZ(vertex)], 3 * at);
  }
  return ends;
}
