/** Take what is picked off. */
import { anything, oneOf } from '../../picked';
import { Said } from '../../rows';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'take-off',
  words: 'delete',
  command: 'Delete the picked faces',
  also: ['remove faces', 'erase', 'take off', 'delete edges', 'delete vertices'],
  fits: anything,
  needs: 'faces, edges or vertices',
  beside: 5,
  tray: ['take away or open', 2],
  keys: ['Delete'],
  step: ({ faces, ends, vertices }) =>
    oneOf([{ faces }, { edges: ends }, { vertices }], (picked) => ({ tool: 'delete', ...picked })),
  Numbers: () => <Said>The picked faces, or those at the picked edges or vertices, go and leave a hole.</Said>,
});
