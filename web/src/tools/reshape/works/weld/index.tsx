/** Let vertices that lie near each other become one. */
import { useStore } from 'zustand';
import { extraOf, planStore } from '../../../../stores/planStore';
import { LENGTH } from '../../../../ui/kinds';
import { countOf } from '../../../../ui/numbers';
import { Row } from '../../../../ui/Row';
import { NumberRow } from '../../../../ui/rows';
import { always, some } from '../../picked';
import { AnywayRow } from '../../rows';
import { workOf } from '../../work';
import { WeldPairs } from './WeldPairs';

export const WORK = workOf({
  name: 'weld',
  words: 'weld near ones',
  command: 'Weld vertices that are near each other',
  also: ['merge near vertices', 'duplicate vertices', 'join near vertices', 'stitch'],
  fits: always,
  needs: 'vertices, or nothing for all',
  tray: ['bring together', 1],
  lasting: { within: 0.1 },
  ofPick: { anyway: false },
  step: ({ vertices }, { within, anyway }) => ({ tool: 'weld', distance: within, vertices: some(vertices), anyway }),
  Numbers,
  Marks: WeldPairs,
});

function Numbers() {
  const { within, anyway } = WORK.use();
  const count = useStore(planStore, (s) => extraOf(s.plan, 'weld')?.count);
  return (
    <>
      <NumberRow
        name="within"
        label="Distance within which vertices become one"
        testId="weld-within"
        value={within}
        kind={LENGTH}
        onSettle={(value) => WORK.set({ within: value })}
      />
      {count !== undefined && <Row name="near each other">{countOf(count, 'pair')}</Row>}
      <AnywayRow on={anyway} set={WORK.set} />
    </>
  );
}
