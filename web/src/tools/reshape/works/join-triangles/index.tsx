/** Join triangles into quads. */
import { LIMITS } from '../../../../api/limits';
import { always, some } from '../../picked';
import { LeanRow } from '../../rows';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'join-triangles',
  words: 'join triangles',
  command: 'Join triangles into quads',
  also: ['triangles to quads', 'quadrangulate'],
  fits: always,
  needs: 'faces, or nothing for all',
  tray: ['quads and triangles', 1],
  lasting: { lean: LIMITS.JoinTrianglesParams.within.first as number },
  step: ({ faces }, { lean }) => ({ tool: 'join triangles', faces: some(faces), within: lean }),
  Numbers: () => <LeanRow lean={WORK.use().lean} range={LIMITS.JoinTrianglesParams.within} set={WORK.set} />,
});
