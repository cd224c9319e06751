import { PencilLine } from 'lucide-react';
import type { Tool } from '../../hand/tool';
import { FreehandMarks } from './FreehandMarks';
import { FreehandMore, FreehandPlan, useFreehandAside, useFreehandChanged, useFreehandHeeded } from './FreehandPlan';
import { FreehandReadout } from './FreehandReadout';
import { letGo, POINTER, putAgain, resetFreehand, setFreehand, takeBack } from './freehand';
import { freehandStore } from './freehandStore';

const turnOver = (): void => {
  const { does } = freehandStore.getState();
  setFreehand({ does: does === 'score' ? 'thin' : 'score' });
};

export const TOOL: Tool = {
  ...POINTER,
  name: 'freehand',
  key: 'd',
  words: 'Freehand',
  also: ['sketch', 'brush', 'pencil', 'draw cut', 'stroke'],
  icon: PencilLine,
  order: 6,
  Readout: FreehandReadout,
  Plan: FreehandPlan,
  More: FreehandMore,
  Marks: FreehandMarks,
  hint: 'Draw over the part with the button held; two clicks make a straight stroke. A score adds edges, thinning takes out those it crosses. Nothing is cut before you make it.',
  begin: 'Nothing is planned. Draw over the part.',
  useAside: useFreehandAside,
  useChanged: useFreehandChanged,
  reset: resetFreehand,
  uses: ['stops', 'lock', 'mirror', 'limit', 'finish', 'woven', 'hard above', 'follow'],
  useHeeded: useFreehandHeeded,
  letGo,
  keepsItsView: true,
  changeReach: () => setFreehand({ through: !freehandStore.getState().through }),
  commands: [
    { id: 'stroke-back', words: 'Take back the last stroke', keys: ['Backspace'], run: takeBack },
    { id: 'stroke-again', words: 'Put the stroke again', keys: ['Shift+Backspace'], run: putAgain },
    { id: 'turn-over', words: 'Score, or thin', keys: ['x'], run: turnOver },
  ],
};
