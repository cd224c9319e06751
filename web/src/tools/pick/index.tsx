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
  also: ['select', 'selection'],
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
  commands: [
    {
      id: 'pick-kind',
      words: 'Pick: faces, edges or vertices',
      also: ['selection mode', 'what is selected'],
      keys: ['k'],
      run: pick.cycleKind,
    },
  ],
};

const region = (by: Parameters<typeof pick.lead>[0], words: string, also: string[]): Command => ({
  id: `pick-${by}`,
  words,
  also,
  keys: [],
  when: pick.somethingPicked,
  needs: 'pick something',
  run: () => void pick.lead(by),
});
const flow = (what: Parameters<typeof pick.byFlow>[0], words: string, also: string[] = []): Command => ({
  id: `pick-all-${what}`,
  words,
  also,
  keys: [],
  run: () => void pick.byFlow(what),
});

/** What can be picked, and hidden, whatever tool is in hand. */
export const PICKING: Command[] = [
  {
    id: 'pick-loop',
    words: 'Pick the loop of the edge',
    also: ['select loop', 'loop select'],
    keys: [],
    run: () => void pick.chain('loop'),
  },
  {
    id: 'pick-ring',
    words: 'Pick the ring of the edge',
    also: ['select ring', 'ring select'],
    keys: [],
    run: () => void pick.chain('ring'),
  },
  {
    id: 'pick-path',
    words: 'Pick the shortest path between two vertices',
    also: ['select path', 'path selection'],
    keys: [],
    run: () => void pick.chain('path'),
  },
  region('grow', 'Grow the pick', ['grow selection', 'expand selection', 'select more']),
  region('shrink', 'Shrink the pick', ['shrink selection', 'select less']),
  region('invert', 'Invert the pick', ['invert selection', 'inverse', 'select all']),
  region('connected', 'Pick all that is connected', ['select connected', 'linked', 'shell', 'island']),
  region('patch', 'Pick the whole patch', ['select group']),
  region('border', 'Pick the boundary of the picked faces', ['boundary loop', 'outline of selection', 'border']),
  flow('ngons', 'Pick all n-gons', ['select n-gons', 'polygons']),
  flow('triangles', 'Pick all triangles', ['select triangles']),
  flow('poles', 'Pick all poles', ['stars', 'select poles', 'singularities']),
  flow('stray', 'Pick all stray vertices', ['loose', 'isolated']),
  flow('warped', 'Pick all warped faces', ['non-planar', 'bent faces', 'not flat']),
  flow('blunt', 'Pick all faces with a corner over 170°'),
  flow('sharp', 'Pick all faces with a corner under 10°'),
  flow('folded', 'Pick all folded quads'),
  flow('spirals', 'Pick all quads where a ring winds about itself'),
  flow('borders', 'Pick all open boundaries', ['open edges', 'holes', 'non-manifold', 'borders']),
  {
    id: 'pick-none',
    words: 'Pick nothing',
    also: ['deselect', 'clear selection', 'select none'],
    keys: [],
    when: pick.somethingPicked,
    needs: 'pick something',
    run: pick.clearPick,
  },
  {
    id: 'hide',
    words: 'Hide unpicked faces, or show them again',
    also: ['isolate', 'isolate selection', 'unhide', 'show all faces', 'bring back'],
    keys: ['i'],
    needs: 'pick faces',
    when: () => pickStore.getState().faces.length > 0 || pickStore.getState().shown !== null,
    run: pick.toggleHidden,
  },
];
