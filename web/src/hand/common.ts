/** What cuts have in common, as their steps have it: it is set in one place, whatever tool is in hand. */
import type { Schemas } from '../api/client';
import { same } from '../space/same';
import { limitOf, pickStore } from '../stores/pickStore';
import { planStore, WOVEN } from '../stores/planStore';

export type Common = Required<
  Pick<Schemas['SliceParams'], 'mirror' | 'limit' | 'finish' | 'woven' | 'hard_above' | 'follow'>
>;

/** The common part of a step, or what of it that step has. */
export function common(): Common;
export function common<Name extends keyof Common>(...names: Name[]): Pick<Common, Name>;
export function common(...names: (keyof Common)[]): Partial<Common> {
  const { mirror, finish, woven, hardAbove, follow } = planStore.getState();
  const all: Common = {
    mirror,
    limit: limitOf(pickStore.getState()),
    finish,
    woven: finish === 'woven' && !same(woven, WOVEN) ? { ...woven, most_off: null } : null,
    hard_above: hardAbove,
    follow,
  };
  return names.length === 0 ? all : Object.fromEntries(names.map((name) => [name, all[name]]));
}
