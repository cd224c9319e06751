/** Make every body a part. */
import { always, some } from '../../picked';
import { Said } from '../../rows';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'each-body',
  words: 'each shell a part',
  command: 'Make each shell a part of its own',
  also: ['separate shells', 'split shells', 'explode', 'unjoin'],
  fits: always,
  needs: 'faces, or nothing for all',
  tray: ['the whole part', 1],
  step: ({ faces }) => ({ tool: 'separate', faces: some(faces), each: true }),
  Numbers: () => <Said>What hangs together becomes a part of its own; the largest stays this one.</Said>,
});
