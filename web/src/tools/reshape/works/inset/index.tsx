/** Draw the picked faces in, a strip round them. */
import { LENGTH } from '../../../../ui/kinds';
import { NumberRow } from '../../../../ui/rows';
import { faces, some } from '../../picked';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'inset',
  words: 'inset',
  command: 'Inset the picked faces',
  also: ['inner face', 'offset face', 'shrink face'],
  fits: faces,
  needs: 'faces',
  beside: 3,
  lasting: { width: 2 },
  step: ({ faces }, { width }) => some(faces) && { tool: 'inset', faces, distance: width },
  Numbers,
});

function Numbers() {
  const { width } = WORK.use();
  return (
    <NumberRow
      name="strip"
      label="Width of the strip"
      testId="inset-width"
      value={width}
      kind={LENGTH}
      onSettle={(value) => WORK.set({ width: value })}
    />
  );
}
