/** The work that is planned on what is picked: begun, shown, laid aside. Each is planned, seen and made as a step. */
import type { Step } from '../../api/client';
import type { Command } from '../../hand/commands';
import { changeTool, replan } from '../../hand/planning';
import { NOTHING_PICKED, picked, pickStore } from '../../stores/pickStore';
import { toolStore } from '../../stores/toolStore';
import { stageOf } from '../../viewport/stageOf';
import { reshapeStore } from './reshapeStore';
import { NO_SIZE, sizeStore } from './sizeStore';
import type { Work } from './work';
import { WORKS, workNamed } from './works';

/** The work that is planned, if one is. */
export const planned = (): Work | null => workNamed(reshapeStore.getState().work);

/** The planned work as a step; null if none is planned or not enough is picked for it. */
export function reshapeStep(): Step | null {
  const work = planned();
  if (!work) return null;
  const { faces, edges, vertices } = pickStore.getState();
  const ends = (stageOf.current?.endsOf(edges) ?? []) as [number, number][];
  return work.step({ faces, ends, vertices }, work.now());
}

/** Lay the work aside that is planned; what held for the pick alone is forgotten. */
export function layAside(): void {
  const numbers = Object.fromEntries(WORKS.map((work) => [work.name, { ...work.now(), ...work.ofPick }]));
  reshapeStore.setState({ work: null, numbers, dragging: false });
}

/** Plan a piece of work, or lay it aside if it is planned already; what is only in the tray with the tray in hand. */
export function begin(name: string, inTray = toolStore.getState().tool === 'mend'): void {
  const same = reshapeStore.getState().work === name;
  changeTool(inTray ? 'mend' : 'pick');
  sizeStore.setState({ ...NO_SIZE });
  layAside();
  if (!same) reshapeStore.setState({ work: name });
  (planned()?.changed ?? replan)();
}

const KINDS = ['faces', 'edges', 'vertices'] as const;
/** What may be enough of a kind. */
const SOME = [[0], [0, 1], [0, 1, 2]];

/** Choose a work for which nothing is picked yet: it is planned as soon as enough is. */
export function beginBeforePicking(work: Work): void {
  const can = KINDS.filter((kind) => SOME.some((few) => work.fits({ ...NOTHING_PICKED, [kind]: few })));
  const kind = can.find((one) => one === pickStore.getState().kind) ?? can[0];
  if (kind) pickStore.setState({ kind });
  begin(work.name, work.tray !== undefined);
}

export const WORK_COMMANDS: Command[] = WORKS.map((work) => ({
  id: `work-${work.name}`,
  words: work.command,
  also: [work.words, ...work.also],
  keys: work.keys ?? [],
  when: () => work.fits(picked()),
  run: () => begin(work.name, work.beside === undefined),
  needs: `pick ${work.needs}`,
  lead: () => beginBeforePicking(work),
}));
