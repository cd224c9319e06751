/** What the faces that a cut touches end as, and how good the quads are that mending makes of them. */
import { useStore } from 'zustand';
import { setShared } from '../hand/planning';
import { type Finish as Ends, planStore } from '../stores/planStore';
import { countOf } from '../ui/numbers';
import { Row } from '../ui/Row';
import { ChoiceRow } from '../ui/rows';
import { stageOf } from '../viewport/stageOf';

const ENDS: [Ends, string][] = [
  ['as cut', 'as cut'],
  ['quads', 'all quads where it touches'],
];

export function Finish() {
  const finish = useStore(planStore, (s) => s.finish);
  return (
    <ChoiceRow
      name="flow after"
      label="What the faces it touches end as"
      testId="finish"
      value={finish}
      options={ENDS}
      onChange={(next) => setShared({ finish: next })}
    />
  );
}

/** How good the quads are that mending makes. */
export function Mended() {
  const mending = useStore(planStore, (s) => s.plan?.mending);
  if (!mending || mending.quads === 0) return null;
  return (
    <div
      data-testid="mending"
      data-quads={mending.quads}
      data-angle={mending.angle}
      data-jacobian={mending.jacobian}
      className="mb-1 border-rule border-l-2 pl-2.5"
    >
      <Row name="thin lines">{countOf(mending.edges.length, 'edge')} mend the flow</Row>
      <Row name="smallest angle">
        {mending.angle.toFixed(1)}°<Show at={mending.angle_at} of="the smallest angle" />
      </Row>
      <Row name="smallest scaled Jacobian">
        {mending.jacobian.toFixed(2)}
        <Show at={mending.jacobian_at} of="the smallest scaled Jacobian" />
      </Row>
    </div>
  );
}

const Show = ({ at, of }: { at: [number, number, number]; of: string }) => (
  <button
    type="button"
    aria-label={`Show ${of}`}
    className="ml-2 underline"
    onClick={() => void stageOf.current?.showPlaces([at])}
  >
    Show
  </button>
);
