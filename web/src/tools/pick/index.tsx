import { MousePointer2 } from 'lucide-react';
import type { Command } from '../../hand/commands';
import type { Tool } from '../../hand/tool';
import { pickStore } from '../../stores/pickStore';
import { PickReadout } from '../reshape/PickReadout';
import * as pick from '../reshape/pick';
import { ReshapeMarks } from '../reshape/ReshapeMarks';

const nothing = (): null => null;

export const TOOL: Tool = {
  ...pick.POINTER,
  name: 'pick',
  key: 'p',
  words: 'Pick',
  icon: MousePointer2,
  order: 0,
  Readout: PickReadout,
  Plan: nothing,
  Marks: ReshapeMarks,
  hint: 'Click what is meant; Shift adds, Ctrl takes away. Picked faces limit the next cut. Right-click lists what can be done with what lies there.',
  begin: '',
  useAside: () => undefined,
  useChanged: () => [],
  reset: () => {},
  uses: [],
  commands: [{ id: 'pick-kind', words: 'Pick: faces, edges or vertices', keys: ['k'], run: pick.cycleKind }],
};

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

/** What can be picked, and hidden, whatever tool is in hand. */
export const PICKING: Command[] = [
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
  flow('blunt', 'Pick all faces with a corner over 170°'),
  flow('sharp', 'Pick all faces with a corner under 10°'),
  flow('folded', 'Pick all folded quads'),
  flow('spirals', 'Pick all quads where a ring winds about itself'),
  flow('borders', 'Pick all open borders'),
  { id: 'pick-none', words: 'Pick nothing', keys: [], when: pick.somethingPicked, run: pick.clearPick },
  {
    id: 'hide',
    words: 'Hide unpicked faces, or bring them back',
    keys: ['i'],
    when: () => pickStore.getState().faces.length > 0 || pickStore.getState().shown !== null,
    run: pick.toggleHidden,
  },
];
