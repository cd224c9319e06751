/** A piece of work on what is picked. All about one stands in its folder of `works/`: what it is called and needs, its numbers and how they are shown, the step it makes. */
import type { ComponentType } from 'react';
import { useStore } from 'zustand';
import type { Step } from '../../api/client';
import { replan } from '../../hand/planning';
import type { PointerPlace } from '../../hand/tool';
import type { Project } from '../../space/projection';
import type { Picked } from '../../stores/pickStore';
import type { TypedKind } from '../../stores/planStore';
import type { PickedEnds } from './picked';
import { reshapeStore } from './reshapeStore';

/** The groups of the tray, in its order. */
export const GROUPS = [
  'quads and triangles',
  'bring together',
  'take away or open',
  'the whole part',
  'put in shape',
] as const;

/** What a work says of itself; its numbers are `Lasting` ones, kept while others are in hand, and those `OfPick`, which hold for the pick they were set for. */
interface Said<Lasting extends object, OfPick extends object> {
  name: string;
  /** On its chip. */
  words: string;
  /** Among all commands: what it does to what. */
  command: string;
  /** What else people call it. */
  also: readonly string[];
  /** Whether a pick is enough for it. */
  fits: (pick: Picked) => boolean;
  /** What has to be picked for it. */
  needs: string;
  /** Where it stands among what is offered beside a pick, if it is. */
  beside?: number;
  /** Where it stands in the tray, if it does: the group, and its place there. */
  tray?: [(typeof GROUPS)[number], number];
  keys?: string[];
  lasting?: Lasting;
  ofPick?: OfPick;
  /** The step it makes of what is picked; null where that is not enough. */
  step(picked: PickedEnds, numbers: Lasting & OfPick): Step | null;
  Numbers: ComponentType;
  /** What it shows above the part. */
  Marks?: ComponentType<{ project: Project }>;
  /** Its numbers were changed, or it was begun: ask what comes of it. Else the plan is asked for. */
  changed?: () => void;
  /** Whether it does nothing yet, as its numbers are. */
  still?(numbers: Lasting & OfPick): boolean;
  /** Its handle, if it is under the pointer, is held; whether it is. */
  press?: (at: PointerPlace) => boolean;
  drag?: (at: PointerPlace) => void;
  letGo?: (at: PointerPlace) => void;
  /** What a click means to it; whether it means anything. */
  click?: (at: PointerPlace) => boolean;
  typeable?(numbers: Lasting & OfPick): TypedKind[];
  takeTyped?: (value: number) => void;
}

export interface Work<Numbers extends object = object>
  extends Omit<Said<object, object>, 'step' | 'still' | 'typeable'> {
  lasting: object;
  ofPick: object;
  step(picked: PickedEnds, numbers: Numbers): Step | null;
  still?(numbers: Numbers): boolean;
  typeable?(numbers: Numbers): TypedKind[];
  /** Its numbers as they are now. */
  now(): Numbers;
  use(): Numbers;
  /** Change some of its numbers; the plan follows. */
  set(changed: Partial<Numbers>): void;
  /** Note what changes none of the plan. */
  note(changed: Partial<Numbers>): void;
}

/** A work out of what it says of itself. */
export function workOf<Lasting extends object = object, OfPick extends object = object>(
  said: Said<Lasting, OfPick>,
): Work<Lasting & OfPick> {
  const first = { ...said.lasting, ...said.ofPick } as Lasting & OfPick;
  const of = (numbers: Record<string, object>): Lasting & OfPick =>
    (numbers[said.name] as (Lasting & OfPick) | undefined) ?? first;
  const note = (changed: Partial<Lasting & OfPick>): void =>
    reshapeStore.setState(({ numbers }) => ({ numbers: { ...numbers, [said.name]: { ...of(numbers), ...changed } } }));
  return {
    ...said,
    lasting: said.lasting ?? {},
    ofPick: said.ofPick ?? {},
    now: () => of(reshapeStore.getState().numbers),
    use: () => useStore(reshapeStore, (s) => of(s.numbers)),
    note,
    set(changed) {
      note(changed);
      (said.changed ?? replan)();
    },
  };
}
