/** Every command with its words and its key: the keyboard, the tips, the list of keys and the palette all read from here. */

import { toggleDrawing } from './drawing/drawingStore';
import { toggleDrawer } from './outlines/drawerStore';
import { toggleFlow } from './stores/flowStore';
import { moveAlongSteps, partStore } from './stores/partStore';
import { pickStore } from './stores/pickStore';
import { planStore } from './stores/planStore';
import { openSheet } from './stores/sheetStore';
import { type ToolName, toolStore } from './stores/toolStore';
import { takeView, toggleNight, toggleSeeThrough, toggleWire } from './stores/viewStore';
import * as knife from './tools/knife/knife';
import { knifeStore } from './tools/knife/knifeStore';
import * as loop from './tools/loop/loop';
import { setOutline } from './tools/outline/outline';
import { outlineStore } from './tools/outline/outlineStore';
import * as pick from './tools/pick/pick';
import { beginTyping, cycleLock, discard, make, setShared } from './tools/planning';
import { flipSides, setSlice } from './tools/slice/slice';
import { sliceStore } from './tools/slice/sliceStore';
import { changeTool, toolInHand } from './tools/tool';
import type { ViewName } from './viewport/stage';
import { stageOf } from './viewport/stageOf';

export interface Command {
  id: string;
  words: string;
  /** As `KeyboardEvent.key`, with `Ctrl+`, `Shift+` before it; two presses are parted by a space. */
  keys: string[];
  /** When the command would do something; always, if not given. */
  when?: () => boolean;
  run: () => void;
}

const inHand = (tool: ToolName) => (): boolean => toolStore.getState().tool === tool;
const cutting = inHand('knife');
const looping = inHand('loop');
const slicing = inHand('slice');
const outlining = inHand('outline');
const picking = inHand('pick');
const planned = (): boolean => planStore.getState().planned;

export const VIEWS: { name: ViewName; words: string; key: string }[] = [
  { name: 'perspective', words: 'Perspective', key: 'P' },
  { name: 'front', words: 'Front', key: 'F' },
  { name: 'back', words: 'Back', key: 'K' },
  { name: 'left', words: 'Left', key: 'L' },
  { name: 'right', words: 'Right', key: 'R' },
  { name: 'top', words: 'Top', key: 'T' },
  { name: 'bottom', words: 'Bottom', key: 'B' },
];

/** Undo and redo step through the plan while one is open, else through the made cuts. */
function back(): void {
  if (!planned()) void moveAlongSteps('undo');
  else if (cutting()) knife.takeBack();
  else discard();
}

function again(): void {
  if (cutting() && knifeStore.getState().retaken.length > 0) knife.putAgain();
  else void moveAlongSteps('redo');
}

/** Escape throws the plan away first, then goes back to Pick, then picks nothing. */
function discardOrPutDown(): void {
  if (planned() || (slicing() && sliceStore.getState().start)) discard();
  else if (!picking()) changeTool('pick');
  else pick.clearPick();
}

/** Half of the edge under the pointer; of a planned loop, dead centre. */
function half(): void {
  if (looping()) loop.half();
  else setShared({ half: !planStore.getState().half });
}

function changeReach(): void {
  if (cutting()) knife.setKnife({ through: !knifeStore.getState().through });
  else if (outlining()) setOutline({ through: !outlineStore.getState().through });
  else setSlice({ through: !sliceStore.getState().through });
}

const region = (by: Parameters<typeof pick.lead>[0], words: string): Command => ({
  id: `pick-${by}`,
  words,
  keys: [],
  when: pick.somethingPicked,
  run: () => void pick.lead(by),
});
const flow = (what: Parameters<typeof pick.byFlow>[0], words: string): Command => ({
  id: `pick-all-${what}`,
  words,
  keys: [],
  run: () => void pick.byFlow(what),
});

export const COMMANDS: Command[] = [
  { id: 'pick', words: 'Pick', keys: ['p'], run: () => changeTool('pick') },
  { id: 'knife', words: 'Knife line', keys: ['l'], run: () => changeTool('knife') },
  { id: 'loop', words: 'Edge loop', keys: ['e'], run: () => changeTool('loop') },
  { id: 'slice', words: 'Slice', keys: ['s'], run: () => changeTool('slice') },
  { id: 'outline', words: 'Outline', keys: ['o'], run: () => changeTool('outline') },
  { id: 'gauge', words: 'Gauge', keys: ['g'], run: () => changeTool('gauge') },
  { id: 'make', words: 'Make the cut', keys: ['Enter'], when: planned, run: () => void make() },
  { id: 'discard', words: 'Discard the plan, then back to Pick', keys: ['Escape'], run: discardOrPutDown },
  { id: 'take-back', words: 'Take back the last point', keys: ['Backspace'], when: cutting, run: knife.takeBack },
  { id: 'put-again', words: 'Put it again', keys: ['Shift+Backspace'], when: cutting, run: knife.putAgain },
  { id: 'new-line', words: 'Begin a new line elsewhere', keys: ['b'], when: cutting, run: knife.beginLine },
  {
    id: 'lock-next',
    words: 'Next lock',
    keys: ['q'],
    when: () => cutting() || slicing(),
    run: () => cycleLock(1),
  },
  {
    id: 'lock-previous',
    words: 'Previous lock',
    keys: ['Shift+q'],
    when: () => cutting() || slicing(),
    run: () => cycleLock(-1),
  },
  {
    id: 'half',
    words: 'Half of the edge under the pointer, or of a planned loop',
    keys: ['h'],
    when: () => cutting() || looping(),
    run: half,
  },
  {
    id: 'reach',
    words: 'Reach: near side or right through',
    keys: ['w'],
    when: () => cutting() || slicing() || outlining(),
    run: changeReach,
  },
  {
    id: 'flip',
    words: 'Flip: count from the other end; take the other side',
    keys: ['f'],
    when: () => looping() || slicing(),
    run: () => (looping() ? loop.flip() : flipSides()),
  },
  {
    id: 'type',
    words: 'Type the value: share, angle or length',
    keys: ['Tab'],
    when: () => (toolInHand()?.typeable().length ?? 0) > 0 && planStore.getState().pointer !== null,
    run: () => beginTyping(''),
  },
  {
    id: 'remove-edge',
    words: 'Take the edge under the pointer away',
    keys: ['Delete'],
    when: cutting,
    run: () => void knife.removeEdge(),
  },
  { id: 'undo', words: 'Undo', keys: ['Ctrl+z'], when: () => planned() || canMove('can_undo'), run: back },
  { id: 'redo', words: 'Redo', keys: ['Ctrl+Shift+z', 'Ctrl+y'], run: again },
  { id: 'pick-kind', words: 'Pick: faces, edges or vertices', keys: ['k'], when: picking, run: pick.cycleKind },
  { id: 'pick-loop', words: 'Pick the loop of the edge', keys: [], run: () => void pick.chain('loop') },
  { id: 'pick-ring', words: 'Pick the ring of the edge', keys: [], run: () => void pick.chain('ring') },
  {
    id: 'pick-path',
    words: 'Pick the shortest path between two vertices',
    keys: [],
    run: () => void pick.chain('path'),
  },
  region('grow', 'Grow the pick'),
  region('shrink', 'Shrink the pick'),
  region('invert', 'Invert the pick'),
  region('connected', 'Pick all that hangs together'),
  region('patch', 'Pick the whole patch'),
  region('border', 'Pick the border of the picked faces'),
  flow('ngons', 'Pick all n-gons'),
  flow('triangles', 'Pick all triangles'),
  flow('poles', 'Pick all poles'),
  flow('stray', 'Pick all stray vertices'),
  flow('warped', 'Pick all warped faces'),
  flow('borders', 'Pick all open borders'),
  { id: 'pick-none', words: 'Pick nothing', keys: [], when: pick.somethingPicked, run: pick.clearPick },
  {
    id: 'hide',
    words: 'Hide unpicked faces, or bring them back',
    keys: ['i'],
    when: () => pickStore.getState().faces.length > 0 || pickStore.getState().shown !== null,
    run: pick.toggleHidden,
  },
  { id: 'frame', words: 'Frame the part', keys: ['Home'], run: () => void stageOf.current?.fit() },
  ...VIEWS.map(({ name, words, key }) => ({
    id: `view-${name}`,
    words: `View: ${words.toLowerCase()}`,
    keys: [`v ${key.toLowerCase()}`],
    run: () => takeView(name),
  })),
  { id: 'shape', words: 'Add a starter shape', keys: [], run: () => openSheet('shapes') },
  { id: 'outlines', words: 'Open or close the drawer of outlines', keys: [], run: toggleDrawer },
  { id: 'drawing', words: 'Show or hide the drawing', keys: [], run: toggleDrawing },
  { id: 'flow', words: 'Show or hide the flow view', keys: [], run: toggleFlow },
  { id: 'wire', words: 'Show or hide the wire', keys: [], run: toggleWire },
  { id: 'see-through', words: 'See through the part', keys: [], run: toggleSeeThrough },
  { id: 'night', words: 'Day or night theme', keys: [], run: toggleNight },
];

function canMove(way: 'can_undo' | 'can_redo'): boolean {
  return partStore.getState().part?.[way] ?? false;
}

/** The keys of a command as people read them. */
export function keysOf(id: string): string {
  const keys = COMMANDS.find((command) => command.id === id)?.keys[0] ?? '';
  return keys
    .split(' ')
    .map((press) => press.replace(/(^|\+)([a-z])$/, (_, plus, letter) => plus + letter.toUpperCase()))
    .join(', ');
}
