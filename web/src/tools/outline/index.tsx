import { Stamp } from 'lucide-react';
import type { Tool } from '../../hand/tool';
import { OutlineMarks } from './OutlineMarks';
import { OutlineMore, OutlinePlan, useOutlineAside, useOutlineChanged } from './OutlinePlan';
import { OutlineReadout } from './OutlineReadout';
import { POINTER, resetOutline, setOutline } from './outline';
import { outlineStore } from './outlineStore';

export const TOOL: Tool = {
  ...POINTER,
  name: 'outline',
  key: 'o',
  words: 'Outline',
  also: [
    'project curve',
    'imprint',
    'boolean',
    'hole',
    'pocket',
    'engrave',
    'decal',
    'text',
    'letters',
    'logo',
    'vent',
  ],
  icon: Stamp,
  order: 4,
  Readout: OutlineReadout,
  Plan: OutlinePlan,
  More: OutlineMore,
  Marks: OutlineMarks,
  hint: 'Choose a shape in the drawer, then click where it is to stand. It is projected onto the part; drag its handles or type its numbers.',
  begin: 'Nothing is planned. Choose an outline, then click where it is to stand.',
  useAside: useOutlineAside,
  useChanged: useOutlineChanged,
  reset: resetOutline,
  uses: ['mirror', 'limit', 'finish', 'woven', 'hard above'],
  changeReach: () => setOutline({ through: !outlineStore.getState().through }),
};
