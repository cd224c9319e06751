/** Take edges or vertices out of the surface. */
import { LIMITS } from '../../../../api/limits';
import { edgesOrVertices, oneOf } from '../../picked';
import { KeepVerticesRow, Said, StraightRow } from '../../rows';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'dissolve',
  words: 'dissolve',
  command: 'Dissolve the picked edges or vertices',
  also: ['remove edges', 'erase edge', 'delete edge', 'remove loop'],
  fits: edgesOrVertices,
  needs: 'edges or vertices',
  beside: 9,
  tray: ['take away or open', 0],
  lasting: { keepVertices: false, straight: LIMITS.DissolveParams.straight_within.first as number },
  step: ({ ends, vertices }, { keepVertices, straight }) =>
    oneOf([{ edges: ends }, { vertices }], (picked) => ({
      tool: 'dissolve',
      keep_vertices: keepVertices,
      straight_within: straight,
      ...picked,
    })),
  Numbers,
});

function Numbers() {
  const { keepVertices, straight } = WORK.use();
  return (
    <>
      <Said>What is picked goes; the faces beside it become one.</Said>
      <StraightRow straight={straight} set={WORK.set} />
      <KeepVerticesRow on={keepVertices} set={WORK.set} />
    </>
  );
}
