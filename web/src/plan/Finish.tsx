/** What the faces that a cut touches end as, and how good the quads are that come of it. */
import { useStore } from 'zustand';
import { setShared } from '../hand/planning';
import { type Finish as Ends, planStore } from '../stores/planStore';
import { ANGLE, SHARE } from '../ui/kinds';
import { useLate } from '../ui/late';
import { countOf } from '../ui/numbers';
import { Row } from '../ui/Row';
import { ChoiceRow, NumberRow } from '../ui/rows';
import { Compared } from './Compared';
import { Show } from './Show';

export const ENDS: [Ends, string][] = [
  ['as cut', 'as cut'],
  ['quads', 'all quads, surface kept'],
  ['woven', 'woven: the grid bends to it'],
];

/** `weaves`: the grid may bend to what is planned. */
export function Finish({ weaves }: { weaves: boolean }) {
  const chosen = useStore(planStore, (s) => s.finish);
  const finish = weaves || chosen !== 'woven' ? chosen : 'as cut';
  return (
    <>
      <ChoiceRow
        name="flow after"
        label="What the faces it touches end as"
        testId="finish"
        value={finish}
        options={weaves ? ENDS : ENDS.filter(([ends]) => ends !== 'woven')}
        onChange={(next) => setShared({ finish: next })}
      />
      {weaves && <Compared />}
    </>
  );
}

/** What is seldom changed of how a line is woven in. */
export function HowWoven() {
  const woven = useStore(planStore, (s) => s.woven);
  return (
    <>
      <NumberRow
        name="surface may move"
        label="How far the surface may move, as a share of the edges there"
        testId="most-moved"
        value={woven.most_moved ?? 1}
        kind={SHARE}
        narrow
        onSettle={(value) => setShared({ woven: { ...woven, most_moved: value } })}
      />
      <NumberRow
        name="edges stay that bend over"
        label="Degrees by which the surface bends at edges that stay where they are"
        testId="even-to"
        value={woven.even_to}
        kind={ANGLE}
        narrow
        onSettle={(value) => setShared({ woven: { ...woven, even_to: value } })}
      />
    </>
  );
}

/** How good the quads are that are made or changed. */
export function Mended() {
  const mending = useStore(planStore, (s) => s.plan?.mending);
  const woven = useStore(planStore, (s) => s.finish) === 'woven';
  const late = useLate(useStore(planStore, (s) => s.working));
  if (!mending || mending.quads === 0) return null;
  return (
    <div
      data-testid="mending"
      data-quads={mending.quads}
      data-angle={mending.angle}
      data-jacobian={mending.jacobian}
      data-median={mending.median}
      className={`mb-1 border-rule border-l-2 pl-2.5 ${late ? 'opacity-40' : ''}`}
    >
      <Row name="thin lines">
        {countOf(mending.edges.length, 'edge')} {woven ? 'bend to it' : 'mend the flow'}
      </Row>
      <Row name="smallest angle">
        {mending.angle.toFixed(1)}°<Show at={mending.angle_at} of="the smallest angle" />
      </Row>
      <Row name="scaled Jacobian, least">
        {mending.jacobian.toFixed(2)}
        <Show at={mending.jacobian_at} of="the smallest scaled Jacobian" />
      </Row>
      <Row name="half of them at least">{mending.median.toFixed(2)}</Row>
    </div>
  );
}
