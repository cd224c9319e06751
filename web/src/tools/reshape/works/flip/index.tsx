/** Let the picked faces look the other way. */
import { faces, some } from '../../picked';
import { Said } from '../../rows';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'flip',
  words: 'flip normals',
  command: 'Flip the normals of the picked faces',
  also: ['flip', 'reverse normals', 'invert normals', 'turn faces inside out'],
  fits: faces,
  needs: 'faces',
  beside: 8,
  tray: ['put in shape', 3],
  step: ({ faces }) => some(faces) && { tool: 'flip', faces },
  Numbers: () => <Said>The picked faces look the other way.</Said>,
});
