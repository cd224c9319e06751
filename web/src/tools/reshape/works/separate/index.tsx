/** Make the picked faces a part. */
import { faces, some } from '../../picked';
import { Said } from '../../rows';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'separate',
  words: 'separate',
  command: 'Separate the picked faces as a part',
  also: ['detach', 'split off', 'take faces out'],
  fits: faces,
  needs: 'faces',
  beside: 6,
  step: ({ faces }) => some(faces) && { tool: 'separate', faces, each: false },
  Numbers: () => <Said>The picked faces become a part of their own.</Said>,
});
