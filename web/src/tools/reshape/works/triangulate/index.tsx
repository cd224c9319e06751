/** Cut faces into triangles. */
import { always, some } from '../../picked';
import { Said } from '../../rows';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'triangulate',
  words: 'triangulate',
  command: 'Triangulate the picked faces, or all',
  also: ['triangles', 'quads to triangles'],
  fits: always,
  needs: 'faces, or nothing for all',
  tray: ['quads and triangles', 2],
  step: ({ faces }) => ({ tool: 'triangulate', faces: some(faces) }),
  Numbers: () => <Said>The picked faces, or all, are cut into triangles.</Said>,
});
