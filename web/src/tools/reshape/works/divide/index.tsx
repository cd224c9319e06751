/** Split faces into columns and rows. */
import { LIMITS } from '../../../../api/limits';
import { wholeNumber } from '../../../../ui/kinds';
import { NumberField } from '../../../../ui/NumberField';
import { Row } from '../../../../ui/Row';
import { always, some } from '../../picked';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'divide',
  words: 'split evenly',
  command: 'Split the picked faces, or all, evenly',
  also: ['divide faces', 'refine'],
  fits: always,
  needs: 'faces, or nothing for all',
  tray: ['quads and triangles', 3],
  lasting: { columns: LIMITS.DivideParams.columns.first as number, rows: LIMITS.DivideParams.rows.first as number },
  step: ({ faces }, { columns, rows }) => ({ tool: 'divide', faces: some(faces), columns, rows }),
  Numbers: () => (
    <Row name="columns × rows">
      <Count of="columns" /> × <Count of="rows" />
    </Row>
  ),
});

function Count({ of }: { of: 'columns' | 'rows' }) {
  return (
    <NumberField
      label={`How many ${of}`}
      testId={`divide-${of}`}
      value={WORK.use()[of]}
      kind={wholeNumber(LIMITS.DivideParams[of])}
      narrow
      onSettle={(next) => WORK.set({ [of]: next })}
    />
  );
}
