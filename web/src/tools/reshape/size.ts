/** Sizing the pick: extents, a diameter or a move are planned like a cut, and made as a step. */
import type { Schemas } from '../../api/client';
import { replan } from '../../hand/planning';
import { pickStore } from '../../stores/pickStore';
import { stageOf } from '../../viewport/stageOf';
import { layAside } from './reshape';
import { type SizeState, sizeStore } from './sizeStore';

/** The planned size as a step; null if nothing would change. */
export function sizeStep(): Schemas['SizeParams'] | null {
  const { extent, diameter, move, about } = sizeStore.getState();
  const sized = extent.some((value) => value !== null);
  if (!sized && diameter === null && move.every((value) => value === 0)) return null;
  const { vertices, edges, faces } = pickStore.getState();
  const [pivot] = vertices;
  // A picked vertex beside picked edges or faces is what stays, not what is sized.
  const onlyPivot = about === 'vertex' && edges.length + faces.length > 0;
  const ends = stageOf.current?.endsOf(edges) ?? [];
  const [x, y, z] = extent;
  return {
    tool: 'size',
    vertices: vertices.length > 0 && !onlyPivot ? vertices : null,
    edges: ends.length > 0 ? ends : null,
    faces: faces.length > 0 ? faces : null,
    extent: sized && diameter === null ? { x, y, z } : null,
    diameter,
    about: about === 'vertex' ? (pivot === undefined ? 'centre' : { vertex: pivot }) : about,
    move,
  };
}

export function setSize(changed: Partial<SizeState>): void {
  layAside();
  sizeStore.setState(changed);
  replan();
}
