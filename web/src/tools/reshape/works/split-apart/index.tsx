/** Open the surface along edges or at vertices. */
import { edgesOrVertices, oneOf } from '../../picked';
import { Said } from '../../rows';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'split-apart',
  words: 'split open',
  command: 'Split the part open along the picked edges',
  also: ['tear', 'cut open', 'unweld', 'split edges', 'split apart'],
  fits: edgesOrVertices,
  needs: 'edges or vertices',
  tray: ['take away or open', 3],
  step: ({ ends, vertices }) =>
    oneOf([{ edges: ends }, { vertices }], (picked) => ({ tool: 'split apart', ...picked })),
  Numbers: () => <Said>The surface opens along the picked edges, or at the picked vertices.</Said>,
});
