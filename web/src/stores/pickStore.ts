/** What is picked, and what is hidden. Picks are kept for every state of the part, so that undo brings them back. */
import { createStore } from 'zustand/vanilla';
import type { Schemas } from '../api/client';

export type PickKind = 'vertices' | 'edges' | 'faces';
export type PickWay = 'click' | 'rectangle' | 'brush';
export type Picked = Required<Schemas['PickOut']>;

interface PickState extends Picked {
  /** The picked vertices in the order they were picked in. */
  inOrder: number[];
  kind: PickKind;
  way: PickWay;
  /** Radius of the brush in pixels. */
  radius: number;
  /** Picked faces limit a cut, unless that was lifted. */
  limited: boolean;
  /** The faces that are shown; null for all. */
  shown: number[] | null;
  /** The rectangle being drawn, or the brush. */
  rectangle: [number, number, number, number] | null;
  brush: [number, number] | null;
}

export const NOTHING_PICKED: Picked = { vertices: [], edges: [], faces: [] };

export const pickStore = createStore<PickState>(() => ({
  ...NOTHING_PICKED,
  inOrder: [],
  kind: 'faces',
  way: 'click',
  radius: 18,
  limited: true,
  shown: null,
  rectangle: null,
  brush: null,
}));

const kept = new Map<number, { picked: Picked; shown: number[] | null }>();

export function picked(): Picked {
  const { vertices, edges, faces } = pickStore.getState();
  return { vertices, edges, faces };
}

export function pickedCount({ vertices, edges, faces }: Picked): number {
  return vertices.length + edges.length + faces.length;
}

/** The part is at another state: keep what was picked at the one before, take up what was picked here. */
export function changeState(from: number | null, to: number | null, carried: Picked | null): void {
  if (from !== null) kept.set(from, { picked: picked(), shown: pickStore.getState().shown });
  const here = to === null ? undefined : kept.get(to);
  const next = carried ?? here?.picked ?? NOTHING_PICKED;
  pickStore.setState({
    ...next,
    inOrder: next.vertices,
    shown: carried ? null : (here?.shown ?? null),
    rectangle: null,
    brush: null,
  });
}

/** The faces a cut is confined to: the picked ones unless that was lifted, and never hidden ones; null for all. */
export function limitOf({ faces, limited, shown }: Pick<PickState, 'faces' | 'limited' | 'shown'>): number[] | null {
  if (faces.length > 0 && limited) return faces;
  return shown;
}
