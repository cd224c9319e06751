/** Make edges hard, soft, or a crease. */
import { edges, some } from '../../picked';
import { HARD, HardnessRows } from '../../rows';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'hard',
  words: 'hard or soft',
  command: 'Make the picked edges hard or soft',
  also: ['hard', 'crease', 'sharp edges', 'smooth edges'],
  fits: edges,
  needs: 'edges',
  tray: ['put in shape', 4],
  lasting: HARD,
  step: ({ ends }, { hardness, strength }) =>
    some(ends) && { tool: 'hard edges', edges: some(ends), to: hardness, strength },
  Numbers: () => <HardnessRows {...WORK.use()} set={WORK.set} />,
});
