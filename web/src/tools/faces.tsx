/** The tools as they show themselves: on the bench, in the readout, in the plan and above the part. */
import {
  CircleDotDashed,
  type LucideIcon,
  MousePointer2,
  Ruler,
  Slice,
  SquareSplitHorizontal,
  Stamp,
} from 'lucide-react';
import type { ComponentType } from 'react';
import type { ToolName } from '../stores/toolStore';
import type { Project } from '../viewport/projection';
import { GaugeMarks } from './gauge/GaugeMarks';
import { GaugePlan, useGaugeAside, useGaugeChanged } from './gauge/GaugePlan';
import { GaugeReadout } from './gauge/GaugeReadout';
import { resetGauge } from './gauge/gauge';
import { KnifeMarks } from './knife/KnifeMarks';
import { KnifePlan, useKnifeAside, useKnifeChanged } from './knife/KnifePlan';
import { KnifeReadout } from './knife/KnifeReadout';
import { resetSettings } from './knife/knife';
import { knifeStore, pointCount } from './knife/knifeStore';
import { LoopMarks } from './loop/LoopMarks';
import { LoopPlan, useLoopAside, useLoopChanged } from './loop/LoopPlan';
import { LoopReadout } from './loop/LoopReadout';
import { resetLoop } from './loop/loop';
import { OutlineMarks } from './outline/OutlineMarks';
import { OutlinePlan, useOutlineAside, useOutlineChanged } from './outline/OutlinePlan';
import { OutlineReadout } from './outline/OutlineReadout';
import { resetOutline } from './outline/outline';
import { PickReadout } from './pick/PickReadout';
import { ReshapeMarks } from './reshape/ReshapeMarks';
import { SliceMarks } from './slice/SliceMarks';
import { SlicePlan, useSliceAside, useSliceChanged } from './slice/SlicePlan';
import { SliceReadout } from './slice/SliceReadout';
import { resetSlice } from './slice/slice';

export interface ToolFace {
  words: string;
  icon: LucideIcon;
  Readout: ComponentType;
  /** What is planned and how, in the plan card. */
  Plan: ComponentType;
  /** Marks and handles above the part. */
  Marks: ComponentType<{ project: Project }>;
  /** Said in the plan card while nothing is planned. */
  begin: string;
  /** What is planned, in a few words. */
  useAside: () => string | undefined;
  /** The tool's own settings that are not at their defaults. */
  useChanged: () => string[];
  reset: () => void;
  /** The shared settings that the tool takes heed of. */
  uses: ('stops' | 'lock' | 'mirror')[];
  /** The plan is not far enough to be refused. */
  unfinished?: () => boolean;
}

const nothing = (): null => null;

export const FACES: Record<ToolName, ToolFace> = {
  pick: {
    words: 'Pick',
    icon: MousePointer2,
    Readout: PickReadout,
    Plan: nothing,
    Marks: ReshapeMarks,
    begin: '',
    useAside: () => undefined,
    useChanged: () => [],
    reset: () => {},
    uses: [],
  },
  knife: {
    words: 'Knife line',
    icon: Slice,
    Readout: KnifeReadout,
    Plan: KnifePlan,
    Marks: KnifeMarks,
    begin: 'Nothing is planned. The first point begins a line.',
    useAside: useKnifeAside,
    useChanged: useKnifeChanged,
    reset: resetSettings,
    uses: ['stops', 'lock', 'mirror'],
    unfinished: () => pointCount(knifeStore.getState().lines) < 2,
  },
  loop: {
    words: 'Edge loop',
    icon: CircleDotDashed,
    Readout: LoopReadout,
    Plan: LoopPlan,
    Marks: LoopMarks,
    begin: 'Nothing is planned. Click an edge: the loop runs over the quads beside it.',
    useAside: useLoopAside,
    useChanged: useLoopChanged,
    reset: resetLoop,
    uses: ['stops', 'mirror'],
  },
  slice: {
    words: 'Slice',
    icon: SquareSplitHorizontal,
    Readout: SliceReadout,
    Plan: SlicePlan,
    Marks: SliceMarks,
    begin: 'Nothing is planned. Draw a line across the view, or choose a plane.',
    useAside: useSliceAside,
    useChanged: useSliceChanged,
    reset: resetSlice,
    uses: ['stops', 'lock', 'mirror'],
  },
  outline: {
    words: 'Outline',
    icon: Stamp,
    Readout: OutlineReadout,
    Plan: OutlinePlan,
    Marks: OutlineMarks,
    begin: 'Nothing is planned. Choose an outline, then click where it is to stand.',
    useAside: useOutlineAside,
    useChanged: useOutlineChanged,
    reset: resetOutline,
    uses: ['mirror'],
  },
  gauge: {
    words: 'Gauge',
    icon: Ruler,
    Readout: GaugeReadout,
    Plan: GaugePlan,
    Marks: GaugeMarks,
    begin: 'Nothing is planned. Type distances one after another, or paste a column of them.',
    useAside: useGaugeAside,
    useChanged: useGaugeChanged,
    reset: resetGauge,
    uses: ['mirror'],
  },
};
