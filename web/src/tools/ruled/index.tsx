import { AlignVerticalSpaceAround } from 'lucide-react';
import type { Tool } from '../../hand/tool';
import { RuledMarks } from './RuledMarks';
import { RuledMore, RuledPlan, useRuledAside, useRuledChanged } from './RuledPlan';
import { RuledReadout } from './RuledReadout';
import { letGo, POINTER, resetRuled, setRuled, wantLines } from './ruled';
import { ruledStore } from './ruledStore';

export const TOOL: Tool = {
  ...POINTER,
  name: 'ruled',
  key: 'u',
  words: 'Ruled lines',
  also: ['grid lines', 'hatch', 'parallel lines', 'even lines', 'array of lines'],
  icon: AlignVerticalSpaceAround,
  order: 7,
  Readout: RuledReadout,
  Plan: RuledPlan,
  More: RuledMore,
  Marks: RuledMarks,
  hint: 'Pick the faces to be ruled, then click a base edge: lines leave it, evenly divided. Click the rings to leave lines out; click further edges for further bases.',
  begin: 'Nothing is planned. Click the edge that lines are to leave from.',
  useAside: useRuledAside,
  useChanged: useRuledChanged,
  reset: resetRuled,
  uses: ['mirror', 'limit', 'finish', 'woven', 'hard above', 'follow'],
  letGo,
  changeReach: () => setRuled({ ends: ruledStore.getState().ends === 'whole part' ? 'border' : 'whole part' }),
  commands: [
    {
      id: 'whole-side',
      words: 'Rule from the whole side, or from one edge',
      keys: ['x'],
      run: () => setRuled({ side: ruledStore.getState().side === 'whole' ? 'edge' : 'whole' }),
    },
    { id: 'all-lines', words: 'Draw all lines', keys: ['Shift+a'], run: () => wantLines(true) },
    { id: 'no-lines', words: 'Draw no line', keys: ['Shift+n'], run: () => wantLines(false) },
  ],
};
