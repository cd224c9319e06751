/** What can be done to patches, as commands. */
import type { Command } from '../hand/commands';
import { partStore } from '../stores/partStore';
import { pickStore } from '../stores/pickStore';
import { type Bound, patchStore, work } from './patches';

const picked = (): boolean => pickStore.getState().faces.length > 0;
const there = (): boolean => partStore.getState().part !== null;

const of = (bound: Bound, words: string): Command => ({
  id: `patch-each-${bound.replace(' ', '-')}`,
  words: `Patches: ${words}`,
  keys: [],
  when: there,
  run: () => void work({ tool: 'patch', faces: null, name: 'Patch', up_to: bound, degrees: 30, each: true }),
});

export const PATCHES: Command[] = [
  {
    id: 'patch-of-pick',
    words: 'Patches: one of the picked faces',
    also: ['group', 'face set', 'name faces', 'selection set'],
    keys: [],
    when: picked,
    needs: 'pick faces',
    run: () => {
      const { faces } = pickStore.getState();
      void work({ tool: 'patch', faces, name: 'Patch', up_to: null, degrees: 30, each: false });
    },
  },
  {
    id: 'patch-none',
    words: 'Patches: take the picked faces out of theirs',
    also: ['ungroup', 'remove from group'],
    keys: [],
    when: picked,
    needs: 'pick faces',
    run: () => {
      const { faces } = pickStore.getState();
      void work({ tool: 'patch', faces, name: '', up_to: null, degrees: 30, each: false });
    },
  },
  of('hard edges', 'one up to hard edges each'),
  of('angle', 'one up to 30° each'),
  of('connected', 'one of all that is connected each'),
  {
    id: 'patch-signs',
    words: 'Patches: letters on the part, or none',
    also: ['labels', 'group names'],
    keys: [],
    run: () => patchStore.setState({ signs: !patchStore.getState().signs }),
  },
];
