/** Every command with its words and its key: the keyboard, the tips and the list of keys all read from here. */

import { moveAlongSteps, partStore } from './stores/partStore';
import { planStore, pointCount } from './stores/planStore';
import { takeTool, toolStore } from './stores/toolStore';
import { takeView, toggleSeeThrough, toggleWire } from './stores/viewStore';
import * as knife from './tools/knife/knife';
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

const planning = (): boolean => toolStore.getState().tool === 'knife';
const planned = (): boolean => planStore.getState().lines.length > 0;

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
  if (planned()) knife.takeBack();
  else void moveAlongSteps('undo');
}

function again(): void {
  if (planned() || planStore.getState().retaken.length > 0) knife.putAgain();
  else void moveAlongSteps('redo');
}

/** Escape throws the plan away first, then puts the tool down. */
function discardOrPutDown(): void {
  if (pointCount(planStore.getState().lines) > 0) knife.discard();
  else if (planning()) {
    takeTool(null);
    knife.discard();
  }
}

export const COMMANDS: Command[] = [
  { id: 'knife', words: 'Knife line', keys: ['l'], run: () => takeTool('knife') },
  { id: 'make', words: 'Make the cut', keys: ['Enter'], when: planned, run: () => void knife.make() },
  { id: 'discard', words: 'Discard the plan, then put the tool down', keys: ['Escape'], run: discardOrPutDown },
  { id: 'take-back', words: 'Take back the last point', keys: ['Backspace'], when: planning, run: knife.takeBack },
  { id: 'put-again', words: 'Put it again', keys: ['Shift+Backspace'], when: planning, run: knife.putAgain },
  { id: 'new-line', words: 'Begin a new line elsewhere', keys: ['b'], when: planning, run: knife.beginLine },
  { id: 'half', words: 'Half of the edge under the pointer', keys: ['h'], when: planning, run: knife.toggleHalf },
  {
    id: 'reach',
    words: 'Reach: near side or right through',
    keys: ['w'],
    when: planning,
    run: () => knife.setThrough(!planStore.getState().through),
  },
  { id: 'undo', words: 'Undo', keys: ['Ctrl+z'], when: () => planned() || canMove('can_undo'), run: back },
  { id: 'redo', words: 'Redo', keys: ['Ctrl+Shift+z', 'Ctrl+y'], when: () => true, run: again },
  { id: 'frame', words: 'Frame the part', keys: ['Home'], run: () => void stageOf.current?.fit() },
  ...VIEWS.map(({ name, words, key }) => ({
    id: `view-${name}`,
    words: `View: ${words.toLowerCase()}`,
    keys: [`v ${key.toLowerCase()}`],
    run: () => takeView(name),
  })),
  { id: 'wire', words: 'Show or hide the wire', keys: [], run: toggleWire },
  { id: 'see-through', words: 'See through the part', keys: [], run: toggleSeeThrough },
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
