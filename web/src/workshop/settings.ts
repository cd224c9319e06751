/** Settings of plans that people look for, as commands: the way to where it is set, in a tool that has it. */
import type { Command } from '../hand/commands';
import { bringIntoSight } from '../hand/inSight';
import { changeTool } from '../hand/planning';
import { type Setting, toolInHand } from '../hand/tool';
import { drawerStore } from '../stores/drawerStore';
import { fold } from '../stores/foldStore';
import { toast } from '../stores/toastStore';
import { toolStore } from '../stores/toolStore';

interface Where {
  words: string;
  also: readonly string[];
  /** What it is found by on the page. */
  at: string;
  /** The tools that have it: those that take heed of a shared setting, or those named. */
  of: Setting | readonly string[];
  /** It stands among the settings that are put away. */
  away?: true;
}

const WHERE: readonly Where[] = [
  {
    at: 'stops',
    of: 'stops',
    words: 'Stops: where points settle along an edge',
    also: ['snap', 'snapping', 'increments', 'midpoint'],
  },
  {
    at: 'lock',
    of: 'lock',
    words: 'Lock: hold the next stretch to a direction',
    also: ['angle snap', 'constrain', 'axis lock', 'straight line', 'grid snap'],
  },
  {
    at: 'mirror',
    of: 'mirror',
    words: 'Mirror: cut on both sides at once',
    also: ['symmetry', 'symmetric', 'symmetrical'],
  },
  {
    at: 'finish',
    of: 'finish',
    words: 'Flow after: as cut, all quads, or woven',
    also: ['keep quads', 'quad flow', 'no n-gons', 'topology flow'],
  },
  {
    at: 'follow',
    of: 'follow',
    away: true,
    words: 'Follow: lift new vertices onto the curve',
    also: ['curvature', 'round loop', 'smooth loop'],
  },
  {
    at: 'hard-above',
    of: 'hard above',
    away: true,
    words: 'New edges hard above an angle',
    also: ['sharp new edges', 'crease new edges'],
  },
  {
    at: 'open-ends',
    of: ['knife'],
    away: true,
    words: 'Open ends of a knife line',
    also: ['trim', 'extend', 'dangling ends'],
  },
  { at: 'plane-count', of: ['slice'], words: 'Several parallel planes', also: ['repeat slice', 'multiple slices'] },
  {
    at: 'then',
    of: ['slice'],
    words: 'What becomes of the sides of a slice',
    also: ['cap', 'cap the openings', 'discard side', 'gap', 'part by', 'halve and mirror', 'separate halves'],
  },
  { at: 'loop-count', of: ['loop'], words: 'How many edge loops', also: ['multiple loops', 'segments'] },
  {
    at: 'loop-extra',
    of: ['loop'],
    away: true,
    words: 'Extra points on new edges of a loop',
    also: ['subdivide edge', 'add vertices'],
  },
  { at: 'gauge-tilt', of: ['gauge'], away: true, words: 'Tilt of gauge cuts', also: ['angled cuts', 'mitre'] },
  { at: 'gauge-add', of: ['gauge'], words: 'Add distances to the gauge', also: ['dimension', 'measured distance'] },
  { at: 'strokes-do', of: ['freehand'], words: 'Freehand: score or thin', also: ['erase edges', 'rubber', 'eraser'] },
  {
    at: 'smooth',
    of: ['freehand'],
    away: true,
    words: 'Smooth what is drawn freehand',
    also: ['stabilizer', 'steady stroke'],
  },
  { at: 'ruled-count', of: ['ruled'], words: 'How many ruled lines', also: ['line count', 'spacing'] },
  { at: 'seam-way', of: ['seam'], words: 'Which way a seam takes', also: ['straight seam', 'shortest seam'] },
  { at: 'outlines-in-hand', of: ['outline'], words: 'Choose an outline', also: ['shape', 'profile', 'letters'] },
];

function has(of: Where['of'], tool = toolInHand()): boolean {
  return typeof of === 'string' ? tool.uses.includes(of) : of.includes(tool.name);
}

function go({ at, of, away, words }: Where): void {
  // The drawer of outlines covers the plan.
  drawerStore.setState({ open: false });
  if (!has(of)) changeTool(typeof of === 'string' ? 'knife' : (of[0] ?? 'knife'));
  if (away) fold('more', toolStore.getState().tool, true);
  bringIntoSight(at, (there) => {
    if (!there) toast({ title: words, words: 'It is there once something is planned.' });
  });
}

export const SETTINGS: Command[] = WHERE.map((where) => ({
  id: `set-${where.at}`,
  words: where.words,
  also: where.also,
  keys: [],
  run: () => go(where),
}));
