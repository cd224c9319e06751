/** Join the picked faces into one. */
import { LIMITS } from '../../../../api/limits';
import { some } from '../../picked';
import { KeepVerticesRow, Said, StraightRow } from '../../rows';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'join',
  words: 'join into one',
  command: 'Join the picked faces into one',
  also: ['merge faces', 'unite faces', 'n-gon from faces'],
  fits: ({ faces }) => faces.length > 1,
  needs: 'two faces or more',
  beside: 7,
  tray: ['take away or open', 1],
  lasting: { keepVertices: false, straight: LIMITS.DissolveParams.straight_within.first as number },
  step: ({ faces }, { keepVertices, straight }) =>
    some(faces) && { tool: 'dissolve', faces, keep_vertices: keepVertices, straight_within: straight },
  Numbers,
});

function Numbers() {
  const { keepVertices, straight } = WORK.use();
  return (
    <>
      <Said>The edges inside the pick go.</Said>
      <StraightRow straight={straight} set={WORK.set} />
      <KeepVerticesRow on={keepVertices} set={WORK.set} />
    </>
  );
}
