/** The commands there are, beside those of the tools: they work whatever tool is in hand, or on the tool in hand. */
import { toggleDrawing } from '../drawing/drawingStore';
import { type Command, provideCommands } from '../hand/commands';
import { bringIntoSight } from '../hand/inSight';
import { asOffered } from '../hand/offered';
import { openCard } from '../hand/openCard';
import { beginTyping, changeTool, compare, cycleLock, discard, isUnderWay, make, setShared } from '../hand/planning';
import { allTools, type Tool, toolInHand } from '../hand/tool';
import { go } from '../page/route';
import { PATCHES } from '../patches/commands';
import { ENDS } from '../plan/Finish';
import { canMove, move } from '../projects/undoing';
import { drawerStore, toggleDrawer } from '../stores/drawerStore';
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
import { pasteFromClipboard } from './paste';
import { PAINTS } from './QualityRows';
import { SETTINGS } from './settings';
import { copyPicture } from './takePicture';

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
  needs: 'take a tool that has it',
  run: () => toolInHand()[id]?.(),
});

const locks = (): boolean => toolInHand().uses.includes('lock');

const inHand = (tool: Tool, command: Command): Command => ({
  ...command,
  when: () => toolStore.getState().tool === tool.name && (command.when?.() ?? true),
  needs: `take ${tool.words}`,
  lead: () => changeTool(tool.name),
});

provideCommands([
  ...allTools().map(({ name, words, also, key }) => ({
    id: name,
    words,
    also,
    keys: [key],
    run: () => changeTool(name),
  })),
  {
    id: 'make',
    words: 'Make the cut',
    also: ['apply', 'commit', 'confirm', 'finish'],
    keys: ['Enter'],
    when: () => planned() || isUnderWay(),
    needs: 'plan something',
    run: () => void make(),
  },
  {
    id: 'discard',
    words: 'Discard the plan, then back to Pick',
    also: ['cancel', 'abort', 'reject'],
    keys: ['Escape'],
    run: discardOrPutDown,
  },
  {
    id: 'lock-next',
    words: 'Next lock',
    keys: ['q'],
    when: locks,
    needs: 'take a tool that places points',
    run: () => cycleLock(1),
  },
  {
    id: 'lock-previous',
    words: 'Previous lock',
    keys: ['Shift+q'],
    when: locks,
    needs: 'take a tool that places points',
    run: () => cycleLock(-1),
  },
  ofTool('half', 'Half of the edge under the pointer, or of a planned loop', 'h'),
  ofTool('changeReach', 'Reach: near side or right through', 'w', 'reach'),
  ofTool('flip', 'Flip: count from the other end; take the other side', 'f'),
  {
    id: 'type',
    words: 'Type the value: share, angle or length',
    also: ['numeric input', 'enter number', 'exact value'],
    keys: ['Tab'],
    needs: 'point at the part with a tool that takes numbers',
    when: () => toolInHand().typeable().length > 0 && planStore.getState().pointer !== null,
    run: () => beginTyping(''),
  },
  {
    id: 'undo',
    words: 'Undo',
    also: ['go back', 'revert', 'step back'],
    needs: 'do something',
    keys: ['Ctrl+z'],
    when: () => canMove('undo'),
    run: () => move('undo'),
  },
  {
    id: 'redo',
    words: 'Redo',
    also: ['go forward', 'again'],
    needs: 'undo something',
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
  {
    id: 'frame',
    words: 'Frame the part',
    also: ['zoom to fit', 'fit view', 'focus', 'centre view', 'reset view'],
    keys: ['Home'],
    run: () => void stageOf.current?.fit(),
  },
  ...VIEWS.map(({ name, words, key }) => ({
    id: `view-${name}`,
    words: `View: ${words.toLowerCase()}`,
    also: ['camera', 'orthographic', 'look from'],
    keys: [`v ${key.toLowerCase()}`],
    run: () => takeView(name),
  })),
  ...LOOKS.map(([look, words, key]) => ({
    id: `look-${look}`,
    words: `Drawn: ${words.toLowerCase()}`,
    also: ['shading', 'display', ...(look === 'smooth' ? ['smooth', 'subdivision preview', 'smooth preview'] : [])],
    keys: [`v ${key}`],
    run: () => viewStore.setState({ look }),
  })),
  ...EXPORTS.map(([ending, words]) => ({
    id: `export-${ending}`,
    words: `Export the part as ${words}`,
    also: [...(ending === 'obj' ? ['export', 'save as'] : []), 'download', 'take out', 'save file'],
    needs: 'take a part in hand',
    keys: [],
    when: () => partStore.getState().part !== null,
    run: () => exportPart(partStore.getState().part?.id ?? 0, ending),
  })),
  ...SETTINGS,
  {
    ...asOffered('import'),
    words: 'Import a file as a part',
    also: ['bring in', 'load', 'open file', 'open', 'obj', 'stl', 'ply', 'glb', 'gltf'],
    keys: [],
  },
  {
    id: 'paste',
    words: 'Paste an SVG drawing or an OBJ file',
    also: ['clipboard'],
    keys: [],
    run: () => void pasteFromClipboard(),
  },
  { ...asOffered('rename'), words: 'Rename the part', also: ['name'], keys: [], needs: 'take a part in hand' },
  {
    ...asOffered('duplicate'),
    words: 'Duplicate the part',
    also: ['clone', 'copy part'],
    keys: [],
    needs: 'take a part in hand',
  },
  {
    ...asOffered('delete-part'),
    words: 'Delete the part',
    also: ['delete part', 'remove part', 'delete object'],
    keys: [],
    needs: 'take a part in hand',
  },
  {
    id: 'keys',
    words: 'Keys and pointer',
    also: ['shortcuts', 'hotkeys', 'help', 'controls', 'mouse'],
    keys: [],
    run: () => openSheet('keys'),
  },
  {
    id: 'picture',
    words: 'Picture of the view: PNG, or its lines as SVG',
    also: ['screenshot', 'render', 'save image', 'snapshot', 'hidden line', 'print', 'export svg', 'export png'],
    keys: [],
    needs: 'take a part in hand',
    when: () => stageOf.current !== null && partStore.getState().part !== null,
    run: () => openSheet('picture'),
  },
  {
    id: 'picture-copy',
    words: 'Copy the view as a picture, as last asked for',
    also: ['copy image', 'copy screenshot'],
    keys: [],
    needs: 'take a part in hand',
    when: () => stageOf.current !== null && partStore.getState().part !== null,
    run: () => void copyPicture(),
  },
  {
    id: 'lessons',
    words: 'Lessons on the Skerry Light',
    also: ['tutorial', 'learn', 'getting started', 'guide', 'how to', 'introduction', 'first steps'],
    keys: [],
    run: () => openSheet('lessons'),
  },
  {
    id: 'projects',
    words: 'All projects',
    also: ['home', 'open project', 'new project', 'recent'],
    keys: [],
    run: () => go({ screen: 'projects' }),
  },
  {
    id: 'about',
    words: 'About: version and licences',
    also: ['credits', 'version'],
    keys: [],
    run: () => go({ screen: 'about' }),
  },
  {
    id: 'measure',
    words: 'Measure and resize the part or the pick',
    also: ['dimensions', 'size', 'length', 'distance', 'angle', 'area', 'scale to size', 'ruler'],
    keys: [],
    run: () => openCard('pick', 'measure'),
  },
  {
    id: 'preferences',
    words: 'Preferences',
    also: ['settings', 'options', 'configuration', 'line colour', 'custom keys'],
    keys: ['Ctrl+,'],
    run: () => openSheet('preferences'),
  },
  {
    id: 'parts',
    words: 'All parts: find, order, show',
    also: ['objects', 'layers', 'deleted parts', 'bring back'],
    keys: [],
    run: () => openSheet('parts'),
  },
  {
    id: 'shape',
    words: 'Add a starter shape',
    also: ['primitive', 'cube', 'box', 'cylinder', 'sphere', 'ball', 'plane', 'torus', 'new part', 'create mesh'],
    keys: [],
    run: () => openSheet('shapes'),
  },
  {
    id: 'outlines',
    words: 'Open or close the drawer of outlines',
    also: ['shapes', 'svg', 'curves', 'import svg', 'letters'],
    keys: [],
    run: toggleDrawer,
  },
  {
    id: 'stencil',
    words: 'Stencil: an outline taken from another part',
    also: ['silhouette', 'section', 'project another part', 'trace part'],
    keys: [],
    run: () => {
      changeTool('outline');
      drawerStore.setState({ open: true });
      bringIntoSight('stencil');
    },
  },
  {
    id: 'drawing',
    words: 'Show or hide the drawing',
    also: ['reference image', 'blueprint', 'background picture', 'image plane', 'calibrate'],
    keys: [],
    run: toggleDrawing,
  },
  {
    id: 'flow',
    words: 'Show or hide the flow view',
    also: ['topology view', 'statistics', 'poles', 'quality', 'analysis'],
    keys: [],
    run: toggleFlow,
  },
  ...PAINTS.map(([paint, words]) => ({
    id: `paint-${paint}`,
    words: `Flow view paints: ${words}`,
    also: ['quality', 'heat map', 'histogram'],
    keys: [],
    needs: 'open the flow view',
    when: () => flowStore.getState().on,
    run: () => paintBy(paint),
  })),
  ...ENDS.map(([finish, words]) => ({
    id: `finish-${finish}`,
    words: `Flow after: ${words}`,
    keys: [],
    needs: 'take a tool that cuts',
    when: () => toolInHand().uses.includes(finish === 'woven' ? 'woven' : 'finish'),
    run: () => setShared({ finish }),
  })),
  {
    id: 'compare',
    words: 'Compare the ways to finish the cut',
    keys: [],
    when: planned,
    needs: 'plan a cut',
    run: () => compare(null),
  },
  {
    id: 'fullscreen',
    words: 'Fill the screen, or no more',
    also: ['full screen', 'maximize'],
    keys: [],
    run: fillScreen,
  },
  { id: 'wire', words: 'Show or hide the wire', also: ['wireframe', 'edges overlay'], keys: [], run: toggleWire },
  {
    id: 'see-through',
    words: 'See through the part',
    also: ['x-ray', 'transparent', 'ghost'],
    keys: [],
    run: toggleSeeThrough,
  },
  {
    id: 'night',
    words: 'Day or night theme',
    also: ['dark mode', 'light mode', 'colours', 'dark theme'],
    keys: [],
    run: toggleNight,
  },
]);

function fillScreen(): void {
  if (document.fullscreenElement) void document.exitFullscreen();
  else void document.documentElement.requestFullscreen();
}
