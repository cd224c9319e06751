/**
 * What was meant when something was asked of the service. Whatever the answer is about — a mark, a pick, a plan — it counts
 * only while all of that still holds: the part and its revision, the tool in hand, and nothing thrown away meanwhile.
 */
import type { Schemas, View } from '../api/client';
import { partStore } from './partStore';
import { toolStore } from './toolStore';
import { viewStore } from './viewStore';

export interface Meant {
  part: Schemas['PartOut'];
  view: View | null;
  tool: string;
  turn: number;
}

let turn = 0;

/** Something was thrown away or begun anew: what was asked before means nothing from here on. */
export function moveOn(): void {
  turn += 1;
}

/** What is meant now; null while no part is on the table. */
export function meant(): Meant | null {
  const { part } = partStore.getState();
  return part && { part, view: viewStore.getState().view, tool: toolStore.getState().tool, turn };
}

export function stillMeant(before: Meant): boolean {
  const now = meant();
  return (
    now !== null &&
    now.turn === before.turn &&
    now.tool === before.tool &&
    now.part.id === before.part.id &&
    now.part.revision === before.part.revision
  );
}
