/** The commands there are, beside those of the tools: they work whatever tool is in hand, or on the tool in hand. */
import { toggleDrawing } from '../drawing/drawingStore';
import { type Command, provideCommands } from '../hand/commands';
import { beginTyping, changeTool, compare, cycleLock, discard, isUnderWay, make, setShared } from '../hand/planning';
import { allTools, type Tool, toolInHand } from '../hand/tool';
import { PATCHES } from '../patches/commands';
import { ENDS } from '../plan/Finish';
import { canMove, move } from '../projects/undoing';
import { toggleDrawer } from '../stores/drawerStore';
import { flowStore, paintBy, toggleFlow } from '../stores/flowStore';
import { partStore } from '../stores/partStore';
import { planStore } from '../stores/planStore';
import { openSheet } from '../stores/sheetStore';
import { toast } from '../stores/toastStore';
import { toolStore } from '../stores/toolStore';
import { cycleWalk, LOOKS, toggleNight, toggleSeeThrough, toggleWire, VIEWS, viewStore } from '../stores/viewStore';
import { ON_TABLE } from '../table/commands';
import '../tools/all';
import { PICKING } from '../tools/pick';
import { clearPick } from '../tools/reshape/pick';
import { WORK_COMMANDS } from '../tools/reshape/reshape';
import { stageOf, takeView } from '../viewport/stageOf';
import { EXPORTS, exportPart } from './PartMenu';
import { PAINTS } from './QualityRows';

const planned = (): boolean => planStore.getState().planned;

/** Escape throws the plan away first, then goes back to Pick, then picks nothing. */
function discardOrPutDown(): void {
  if (toolInHand().letGo?.()) return;
  if (planned() || toolInHand().underWay?.()) discard();
  else if (toolStore.getState().tool !== 'pick') changeTool('pick');
  else clearPick();
}

/** A command that the tool in hand carries out, if it can. */
const ofTool = (id: 'half' | 'flip' | 'changeReach', words: string, key: string, name: string = id): Command => ({
  id: name,
  words,
  keys: [key],
  when: () => toolInHand()[id] !== undefined,
  run: () => toolInHand()[id]?.(),
});

const locks = (): boolean => toolInHand().uses.includes('lock');

const inHand = (tool: Tool, command: Command): Command => ({
  ...command,
  when: () => toolStore.getState().tool === tool.name && (command.when?.() ?? true),
});

provideCommands([
  ...allTools().map(({ name, words, key }) => ({ id: name, words, keys: [key], run: () => changeTool(name) })),
  { id: 'make', words: 'Make the cut', keys: ['Enter'], when: () => planned() || isUnderWay(), run: () => void make() },
  { id: 'discard', words: 'Discard the plan, then back to Pick', keys: ['Escape'], run: discardOrPutDown },
  { id: 'lock-next', words: 'Next lock', keys: ['q'], when: locks, run: () => cycleLock(1) },
  { id: 'lock-previous', words: 'Previous lock', keys: ['Shift+q'], when: locks, run: () => cycleLock(-1) },
  ofTool('half', 'Half of the edge under the pointer, or of a planned loop', 'h'),
  ofTool('changeReach', 'Reach: near side or right through', 'w', 'reach'),
  ofTool('flip', 'Flip: count from the other end; take the other side', 'f'),
  {
    id: 'type',
    words: 'Type the value: share, angle or length',
    keys: ['Tab'],
    when: () => toolInHand().typeable().length > 0 && planStore.getState().pointer !== null,
    run: () => beginTyping(''),
  },
  {
    id: 'undo',
    words: 'Undo',
    keys: ['Ctrl+z'],
    when: () => canMove('undo'),
    run: () => move('undo'),
  },
  {
    id: 'redo',
    words: 'Redo',
    keys: ['Ctrl+Shift+z', 'Ctrl+y'],
    when: () => canMove('redo'),
    run: () => move('redo'),
  },
  ...allTools().flatMap((tool) => (tool.commands ?? []).map((command) => inHand(tool, command))),
  ...PICKING,
  ...WORK_COMMANDS,
  ...PATCHES,
  ...ON_TABLE,
  {
    id: 'walk',
    words: 'Arrow keys: by pixels, from stop to stop, from vertex to vertex',
    keys: ['j'],
    run: () => toast({ title: `Arrow keys go ${cycleWalk()}` }),
  },
  { id: 'frame', words: 'Frame the part', keys: ['Home'], run: () => void stageOf.current?.fit() },
  ...VIEWS.map(({ name, words, key }) => ({
    id: `view-${name}`,
    words: `View: ${words.toLowerCase()}`,
    keys: [`v ${key.toLowerCase()}`],
    run: () => takeView(name),
  })),
  ...LOOKS.map(([look, words, key]) => ({
    id: `look-${look}`,
    words: `Drawn: ${words.toLowerCase()}`,
    keys: [`v ${key}`],
    run: () => viewStore.setState({ look }),
  })),
  ...EXPORTS.map(([ending, words]) => ({
    id: `export-${ending}`,
    words: `Take the part out as ${words}`,
    keys: [],
    when: () => partStore.getState().part !== null,
    run: () => exportPart(partStore.getState().part?.id ?? 0, ending),
  })),
  { id: 'preferences', words: 'Preferences', keys: ['Ctrl+,'], run: () => openSheet('preferences') },
  { id: 'parts', words: 'All parts: find, order, show', keys: [], run: () => openSheet('parts') },
  { id: 'shape', words: 'Add a starter shape', keys: [], run: () => openSheet('shapes') },
  { id: 'outlines', words: 'Open or close the drawer of outlines', keys: [], run: toggleDrawer },
  { id: 'drawing', words: 'Show or hide the drawing', keys: [], run: toggleDrawing },
  { id: 'flow', words: 'Show or hide the flow view', keys: [], run: toggleFlow },
  ...PAINTS.map(([paint, words]) => ({
    id: `paint-${paint}`,
    words: `Flow view paints: ${words}`,
    keys: [],
    when: () => flowStore.getState().on,
    run: () => paintBy(paint),
  })),
  ...ENDS.map(([finish, words]) => ({
    id: `finish-${finish}`,
    words: `Flow after: ${words}`,
    keys: [],
    when: () => toolInHand().uses.includes(finish === 'woven' ? 'woven' : 'finish'),
    run: () => setShared({ finish }),
  })),
  { id: 'compare', words: 'Compare the ways to finish the cut', keys: [], when: planned, run: () => compare(null) },
  { id: 'fullscreen', words: 'Fill the screen, or no more', keys: [], run: fillScreen },
  { id: 'wire', words: 'Show or hide the wire', keys: [], run: toggleWire },
  { id: 'see-through', words: 'See through the part', keys: [], run: toggleSeeThrough },
  { id: 'night', words: 'Day or night theme', keys: [], run: toggleNight },
]);

function fillScreen(): void {
  if (document.fullscreenElement) void document.exitFullscreen();
  else void document.documentElement.requestFullscreen();
}
