/** Let faces side by side agree which way they look. */
import { always } from '../../picked';
import { Said } from '../../rows';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'facing',
  words: 'make normals agree',
  command: 'Make normals agree',
  also: [
    'recalculate normals',
    'unify normals',
    'face orientation',
    'consistent normals',
    'fix normals',
    'normals outside',
  ],
  fits: always,
  needs: 'nothing',
  tray: ['put in shape', 6],
  step: () => ({ tool: 'facing' }),
  Numbers: () => <Said>The fewest faces are turned that make neighbours agree; closed shells look outwards.</Said>,
});
