/** The work that is planned on what is picked: begun, shown, laid aside. Each is planned, seen and made as a step. */
import type { Step } from '../../api/client';
import type { Command } from '../../hand/commands';
import { changeTool, replan } from '../../hand/planning';
import { picked, pickStore } from '../../stores/pickStore';
import { toolStore } from '../../stores/toolStore';
import { stageOf } from '../../viewport/stageOf';
import { reshapeStore } from './reshapeStore';
import { NO_SIZE, sizeStore } from './sizeStore';
import type { Work } from './work';
import { needsNoPick, WORKS, workNamed } from './works';

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

export const WORK_COMMANDS: Command[] = WORKS.map((work) => ({
  id: `work-${work.name}`,
  words: needsNoPick(work) ? `Mend: ${work.words}` : `What is picked: ${work.words}`,
  keys: work.keys ?? [],
  when: () => work.fits(picked()),
  run: () => begin(work.name, work.beside === undefined),
}));
