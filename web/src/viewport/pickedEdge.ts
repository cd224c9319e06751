/** The direction of the picked edge, for what is measured along it. */

import type { Place } from '../space/projection';
import { pickStore } from '../stores/pickStore';
import { stageOf } from './stageOf';

/** From one end of the picked edge to the other; null unless exactly one edge is picked. */
export function pickedEdgeDirection(): Place | null {
  const { edges } = pickStore.getState();
  const [ends] = edges.length === 1 ? (stageOf.current?.endsOf(edges) ?? []) : [];
  const [a, b] = ends?.map((vertex) => stageOf.current?.placeOf(vertex)) ?? [];
  return a && b ? [b[0] - a[0], b[1] - a[1], b[2] - a[2]] : null;
}
