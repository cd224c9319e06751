import { Ruler } from 'lucide-react';
import type { Tool } from '../../hand/tool';
import { GaugeMarks } from './GaugeMarks';
import { GAUGE_HEEDS, GaugeMore, GaugePlan, useGaugeAside, useGaugeChanged, useGaugeHeeded } from './GaugePlan';
import { GaugeReadout } from './GaugeReadout';
import { POINTER, resetGauge } from './gauge';

export const TOOL: Tool = {
  ...POINTER,
  name: 'gauge',
  key: 'g',
  words: 'Gauge',
  also: ['measured cuts', 'offset cuts', 'dimensions', 'distances', 'ruler'],
  icon: Ruler,
  order: 5,
  Readout: GaugeReadout,
  Plan: GaugePlan,
  More: GaugeMore,
  Marks: GaugeMarks,
  hint: 'Type the distances from one end, as they stand in a drawing, or paste a column of them. Every one is cut at exactly its place.',
  begin: 'Nothing is planned. Type distances one after another, or paste a column of them.',
  useAside: useGaugeAside,
  useChanged: useGaugeChanged,
  reset: resetGauge,
  uses: GAUGE_HEEDS,
  useHeeded: useGaugeHeeded,
};
