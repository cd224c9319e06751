import { SquareSplitHorizontal } from 'lucide-react';
import type { Tool } from '../../hand/tool';
import { SliceMarks } from './SliceMarks';
import { SlicePaint } from './SlicePaint';
import { SlicePlan, useSliceAside, useSliceChanged } from './SlicePlan';
import { SliceReadout } from './SliceReadout';
import { flipSides, POINTER, resetSlice, setSlice } from './slice';
import { sliceStore } from './sliceStore';

export const TOOL: Tool = {
  ...POINTER,
  name: 'slice',
  key: 's',
  words: 'Slice',
  also: ['plane cut', 'bisect', 'section', 'halve', 'cut in half', 'mirror cut', 'symmetrize'],
  icon: SquareSplitHorizontal,
  order: 3,
  Readout: SliceReadout,
  Plan: SlicePlan,
  Marks: SliceMarks,
  Paint: SlicePaint,
  hint: 'Draw a line across the part, or choose a plane. Then say what becomes of the two sides: kept, one taken away, or parted by a gap.',
  begin: 'Nothing is planned. Draw a line across the view, or choose a plane.',
  useAside: useSliceAside,
  useChanged: useSliceChanged,
  reset: resetSlice,
  uses: ['stops', 'lock', 'mirror', 'limit', 'finish', 'woven', 'hard above', 'follow'],
  underWay: () => sliceStore.getState().start !== null,
  flip: flipSides,
  changeReach: () => setSlice({ through: !sliceStore.getState().through }),
};
