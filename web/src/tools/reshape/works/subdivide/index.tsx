/** Divide every face, on the smooth form. */
import { LIMITS } from '../../../../api/limits';
import { wholeNumber } from '../../../../ui/kinds';
import { NumberRow } from '../../../../ui/rows';
import { always } from '../../picked';
import { Said } from '../../rows';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'subdivide',
  words: 'subdivide',
  command: 'Subdivide the part',
  also: ['subdivision surface', 'catmull clark', 'smooth mesh'],
  fits: always,
  needs: 'nothing',
  tray: ['the whole part', 3],
  lasting: { rounds: 1 },
  step: (_, { rounds }) => ({ tool: 'subdivide', rounds }),
  Numbers,
});

function Numbers() {
  return (
    <>
      <NumberRow
        name="rounds"
        label="How often every face is divided"
        testId="subdivide-rounds"
        value={WORK.use().rounds}
        kind={wholeNumber(LIMITS.SubdivideParams.rounds)}
        narrow
        onSettle={(rounds) => WORK.set({ rounds })}
      />
      <Said>Every face becomes quads on the smooth form; hard edges and boundaries keep their line.</Said>
    </>
  );
}
