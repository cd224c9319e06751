/** The numbers of a move by handles: how far, about what, and who goes along. */

import { useStore } from 'zustand';
import { LIMITS } from '../../../../api/limits';
import { pickStore } from '../../../../stores/pickStore';
import { Chip } from '../../../../ui/Chip';
import { ANGLE, COORDINATE, numberIn, POSITION, wholeNumber } from '../../../../ui/kinds';
import { ChoiceRow, NumberRow, type Three, ThreeRow, TickRow } from '../../../../ui/rows';
import { MirrorRow } from '../../MirrorRow';
import { AXES, type Axis } from '../../picked';
import { WORK } from '.';
import { directionOf, setMoving, setPivot } from './handles';
import type { Curve, Moving } from './moving';

const WAYS: [Moving['way'], string][] = [
  ['shift', 'shift'],
  ['turn', 'turn'],
  ['scale', 'scale'],
];
const CURVES: [Curve, string][] = [
  ['smooth', 'smoothly'],
  ['even', 'in even steps'],
  ['steep', 'steep near the pick'],
  ['round', 'round from the pick on'],
];
const FACTOR = numberIn('×', { least: 0.001, most: 1000 }, 0.05, 'A factor from 0.001 to 1000');

export function MoveNumbers() {
  const { moving, handles, falloff, grid } = WORK.use();
  if (!handles) return null;
  return (
    <>
      <div className="my-1.5 flex flex-wrap items-center gap-1.5 border-rule border-t pt-2">
        <span className="mr-auto text-soft">handles that</span>
        {WAYS.map(([way, words]) => (
          <Chip
            key={way}
            on={moving.way === way}
            testId={`move-way-${way}`}
            onClick={() => setMoving({ ...moving, way })}
          >
            {words}
          </Chip>
        ))}
      </div>
      {moving.way === 'shift' && <ShiftNumbers moving={moving} normal={handles.normal} />}
      {moving.way === 'turn' && <TurnNumbers moving={moving} />}
      {moving.way === 'scale' && (
        <ThreeRow
          name="times"
          label="Factor of the pick"
          testId="move-factor"
          value={moving.factors}
          kind={FACTOR}
          onSettle={(factors) => setMoving({ ...moving, factors })}
        />
      )}
      {moving.way === 'shift' && (
        <TickRow
          name="land on a grid of the stops"
          tip="What is moved lands on a grid as wide as the stops, and not only goes by steps of it."
          on={grid}
          onChange={(on) => WORK.set({ grid: on })}
        />
      )}
      {moving.way !== 'shift' && <Pivot />}
      <NumberRow
        name="rings that go along"
        label="Rings of neighbours that share in the move"
        testId="falloff-rings"
        value={falloff.rings}
        kind={wholeNumber(LIMITS.Falloff.rings, 'none')}
        narrow
        onSettle={(rings) => WORK.set({ falloff: { ...falloff, rings } })}
      />
      {falloff.rings > 0 && (
        <ChoiceRow
          name="less and less"
          label="How the share falls off"
          testId="falloff-curve"
          value={falloff.curve}
          options={CURVES}
          onChange={(curve) => WORK.set({ falloff: { ...falloff, curve } })}
        />
      )}
      <MirrorRow />
      <p className="my-1 text-[13.5px] text-soft" data-testid="settled-on">
        {handles.words ?? 'Pull a handle; Alt for no stops, Ctrl to land on what lies under the pointer.'}
      </p>
    </>
  );
}

function ShiftNumbers({ moving, normal }: { moving: Moving; normal: Three | null }) {
  return (
    <>
      <ThreeRow
        name="by"
        label="How far the pick goes"
        testId="move-by"
        value={moving.by}
        kind={COORDINATE}
        onSettle={(by) => setMoving({ ...moving, by })}
      />
      {normal && (
        <NumberRow
          name="along its normal"
          label="How far the pick goes along its normal"
          testId="move-along-normal"
          value={normal.reduce((sum, n, k) => sum + n * (moving.by[k] ?? 0), 0)}
          kind={POSITION}
          onSettle={(value) => setMoving({ ...moving, by: normal.map((n) => n * value) as Three })}
        />
      )}
    </>
  );
}

function TurnNumbers({ moving }: { moving: Moving }) {
  const { handles } = WORK.use();
  if (!handles) return null;
  const about: [Axis | 'normal' | 'edge', string][] = [
    ['x', 'x'],
    ['y', 'y'],
    ['z', 'z'],
  ];
  if (handles.normal) about.push(['normal', 'its normal']);
  if (handles.edge) about.push(['edge', 'its edge']);
  const now = about.find(([grip]) => grip === moving.grip)?.[0] ?? 'y';
  return (
    <>
      <ChoiceRow
        name="about"
        label="What it turns about"
        testId="turn-about"
        value={now}
        options={about}
        onChange={(grip) => setMoving({ ...moving, grip, axis: directionOf(grip, handles) ?? AXES.y })}
      />
      <NumberRow
        name="by"
        label="Degrees the pick is turned by"
        testId="turn-degrees"
        value={moving.degrees}
        kind={ANGLE}
        onSettle={(degrees) => setMoving({ ...moving, axis: directionOf(now, handles) ?? moving.axis, degrees })}
      />
    </>
  );
}

/** What stays where it is. */
function Pivot() {
  const { pivot, handles } = WORK.use();
  const pickedVertices = useStore(pickStore, (s) => s.vertices.length);
  const at = pivot ?? handles?.middle ?? [0, 0, 0];
  return (
    <>
      <ThreeRow
        name="about the place"
        label="The place that stays"
        testId="move-pivot"
        value={at}
        kind={COORDINATE}
        onSettle={setPivot}
      />
      {pivot && (
        <div className="my-1">
          <Chip testId="pivot-middle" onClick={() => setPivot(null)}>
            {pickedVertices > 0 ? 'the middle of the vertices' : 'the middle of the pick'}
          </Chip>
        </div>
      )}
    </>
  );
}
