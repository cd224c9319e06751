/** What is picked, as steps have it. */
import type { Step } from '../../api/client';
import type { Picked } from '../../stores/pickStore';

/** What is picked, with edges as pairs of vertices. */
export interface PickedEnds {
  faces: number[];
  ends: [number, number][];
  vertices: number[];
}

export const AXES: Record<'x' | 'y' | 'z', [number, number, number]> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };
export type Axis = keyof typeof AXES;

/** A list with something in it, or null. */
export function some<Element>(list: Element[]): Element[] | null {
  return list.length > 0 ? list : null;
}

/** All that is picked, by kind. */
export const each = ({ faces, ends, vertices }: PickedEnds) => ({
  faces: some(faces),
  edges: some(ends),
  vertices: some(vertices),
});

type Kinds = { faces?: number[]; edges?: [number, number][]; vertices?: number[] };

/** The first of some kinds of element of which anything is picked, as a part of a step. */
export function oneOf(kinds: Kinds[], step: (picked: Kinds) => Step): Step | null {
  const found = kinds.find((kind) => Object.values(kind).some((list) => list.length > 0));
  return found ? step(found) : null;
}

export const faces = ({ faces }: Picked): boolean => faces.length > 0;
export const edges = ({ edges }: Picked): boolean => edges.length > 0;
const vertices = ({ vertices }: Picked): boolean => vertices.length > 0;
export const edgesOrVertices = (pick: Picked): boolean => edges(pick) || vertices(pick);
export const ring = ({ edges, vertices }: Picked): boolean => edges.length + vertices.length > 1;
export const anything = (pick: Picked): boolean => faces(pick) || edgesOrVertices(pick);
export const always = (): boolean => true;
