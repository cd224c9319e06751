import { CircleDotDashed } from 'lucide-react';
import type { Tool } from '../../hand/tool';
import { extraOf } from '../../stores/planStore';
import { LoopMarks } from './LoopMarks';
import { LoopPaint } from './LoopPaint';
import { LoopMore, LoopPlan, useLoopAside, useLoopChanged } from './LoopPlan';
import { LoopReadout } from './LoopReadout';
import { flip, half, POINTER, resetLoop } from './loop';

export const TOOL: Tool = {
  ...POINTER,
  name: 'loop',
  key: 'e',
  words: 'Edge loop',
  also: ['new loop', 'add loop', 'support loop', 'split ring'],
  icon: CircleDotDashed,
  order: 2,
  Readout: LoopReadout,
  Plan: LoopPlan,
  More: LoopMore,
  Marks: LoopMarks,
  Paint: LoopPaint,
  hint: 'Click an edge of the ring to be split. The loop runs over the quads beside it and says where it stops. Type its share, or add more loops in the plan.',
  begin: 'Nothing is planned. Click an edge: the loop runs over the quads beside it.',
  useAside: useLoopAside,
  useChanged: useLoopChanged,
  reset: resetLoop,
  uses: ['stops', 'mirror', 'limit', 'finish', 'woven', 'hard above', 'follow'],
  saysItself: (plan) => extraOf(plan, 'loop')?.ends.map((end) => end.words) ?? [],
  half,
  flip,
};
