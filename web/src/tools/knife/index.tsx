import { Slice } from 'lucide-react';
import { setShared } from '../../hand/planning';
import type { Tool } from '../../hand/tool';
import { planStore } from '../../stores/planStore';
import { KnifeMarks } from './KnifeMarks';
import { KnifeMore, KnifePlan, useKnifeAside, useKnifeChanged } from './KnifePlan';
import { KnifeReadout } from './KnifeReadout';
import * as knife from './knife';
import { knifeStore, pointCount } from './knifeStore';

export const TOOL: Tool = {
  ...knife.POINTER,
  name: 'knife',
  key: 'l',
  words: 'Knife line',
  also: ['cut', 'draw edges', 'slice faces', 'connect', 'connect vertices', 'polygon cut', 'topology'],
  icon: Slice,
  order: 1,
  Readout: KnifeReadout,
  Plan: KnifePlan,
  More: KnifeMore,
  Marks: KnifeMarks,
  hint: 'Click point after point: on a vertex, on an edge at a stop, or inside a face. Type a number to place it exactly, B begins another line. Nothing is cut before you make it.',
  begin: 'Nothing is planned. The first point begins a line.',
  useAside: useKnifeAside,
  useChanged: useKnifeChanged,
  reset: knife.resetSettings,
  uses: ['stops', 'lock', 'mirror', 'limit', 'finish', 'woven', 'hard above', 'follow'],
  unfinished: () => pointCount(knifeStore.getState().lines) < 2,
  keepsItsView: true,
  half: () => setShared({ half: !planStore.getState().half }),
  changeReach: () => knife.setKnife({ through: !knifeStore.getState().through }),
  commands: [
    { id: 'take-back', words: 'Take back the last point', keys: ['Backspace'], run: knife.takeBack },
    { id: 'put-again', words: 'Put it again', keys: ['Shift+Backspace'], run: knife.putAgain },
    { id: 'new-line', words: 'Begin a new line elsewhere', keys: ['b'], run: knife.beginLine },
    {
      id: 'remove-edge',
      words: 'Take the edge under the pointer away',
      keys: ['Delete'],
      run: () => void knife.removeEdge(),
    },
  ],
};
