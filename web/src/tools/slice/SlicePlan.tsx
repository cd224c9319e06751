/** The planned slice in numbers: what gives the plane, where it stands, how many there are, what becomes of the sides. */

import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { LIMITS } from '../../api/limits';
import { extraOf, planStore } from '../../stores/planStore';
import { ANGLE, COORDINATE, LENGTH, only, POSITION, wholeNumber } from '../../ui/kinds';
import { NumberField } from '../../ui/NumberField';
import { countOf } from '../../ui/numbers';
import { Row } from '../../ui/Row';
import { ChoiceRow, TickRow } from '../../ui/rows';
import { breakAlong } from '../reshape/breakAlong';
import { flipSides, type PlaneBy, place, placeBy, setSlice } from './slice';
import { type Placed, SLICE_DEFAULTS, sliceStore, type Then } from './sliceStore';

const BY: [PlaneBy, string][] = [
  ['line', 'a line drawn across the view'],
  ['x', 'square to x'],
  ['y', 'square to y'],
  ['z', 'square to z'],
  ['face', 'on the picked face'],
  ['vertices', 'through three picked vertices'],
];
const THEN: [Then, string][] = [
  ['keep', 'keep both sides'],
  ['discard', 'discard the hatched side'],
  ['part', 'part the sides by a gap'],
  ['halve', 'halve, and mirror the rest'],
];

/** Plan to break the part along the planned planes, each right through. */
function breakAlongPlanes(): void {
  const planes = extraOf(planStore.getState().plan, 'slice')?.planes ?? [];
  const named = planes.map(({ point, normal }) => ({ point, normal }));
  if (named.length > 0) breakAlong({ way: 'planes', planes: named, repeat: null });
}

export function SlicePlan() {
  const { placed, after, count, spacing, cap, asParts } = useStore(
    sliceStore,
    useShallow(({ placed, after, count, spacing, cap, asParts }) => ({ placed, after, count, spacing, cap, asParts })),
  );
  const planned = useStore(planStore, (s) => s.planned);
  const scrap = after === 'discard' || after === 'halve';
  return (
    <>
      <ChoiceRow
        name="by"
        label="What gives the plane"
        testId="plane-by"
        value={placed ? (placed.by === 'axis' ? (placed.axis ?? 'y') : (placed.by ?? 'line')) : 'line'}
        options={BY}
        onChange={placeBy}
      />
      {placed && <Standing placed={placed} />}
      {!scrap && (
        <Row name="planes">
          <NumberField
            label="How many parallel planes"
            testId="plane-count"
            value={count}
            kind={wholeNumber({ ...LIMITS.Repeat.count, least: 1 })}
            narrow
            onSettle={(next) => setSlice({ count: next })}
          />
          {count > 1 && (
            <>
              {' every '}
              <NumberField
                label="Spacing of the planes"
                testId="plane-spacing"
                value={spacing}
                kind={LENGTH}
                onSettle={(next) => setSlice({ spacing: next })}
              />
            </>
          )}
        </Row>
      )}
      <ChoiceRow
        name="then"
        label="Then"
        testId="then"
        value={after}
        options={THEN}
        onChange={(next) => setSlice({ after: next })}
      />
      {after === 'part' && (
        <>
          <Gap />
          <TickRow
            name="as parts of their own"
            tip="Each side of the gap becomes a part on the table."
            on={asParts}
            onChange={(on) => setSlice({ asParts: on })}
          />
        </>
      )}
      {(after === 'part' || after === 'discard') && (
        <TickRow
          name="cap the openings"
          tip="Where the slice opens the part, faces close it again."
          on={cap}
          onChange={(on) => setSlice({ cap: on })}
        />
      )}
      {planned && scrap && (
        <p className="my-1 flex items-center justify-between gap-2 text-[13.5px]">
          <span>The cross-hatched side goes.</span>
          <button type="button" className="underline" onClick={flipSides}>
            Take the other
          </button>
        </p>
      )}
      {planned && !scrap && (
        <button
          type="button"
          data-testid="break-along"
          onClick={breakAlongPlanes}
          className="stitched text-[13.5px] text-soft hover:text-ink"
        >
          Break into shards there
        </button>
      )}
    </>
  );
}

/** Where a placed plane stands, in numbers. */
function Standing({ placed }: { placed: Placed }) {
  const tilt = placed.tilt ?? [0, 0];
  // A plane square to an axis turns about the two others, in the order of the alphabet's ring.
  const ring = ['x', 'y', 'z'];
  const at = ring.indexOf(placed.axis ?? 'y');
  const about = placed.by === 'axis' ? [ring[(at + 1) % 3], ring[(at + 2) % 3]] : ['its length', 'its breadth'];
  return (
    <>
      <Row name={placed.by === 'axis' ? `at ${placed.axis}` : 'moved by'}>
        <NumberField
          label="Position of the plane"
          testId="plane-offset"
          value={placed.offset ?? 0}
          kind={POSITION}
          onSettle={(offset) => place({ offset })}
        />
      </Row>
      {([0, 1] as const).map((k) => (
        <Row key={k} name={`tilt about ${about[k]}`}>
          <NumberField
            label={`Tilt about ${about[k]}`}
            testId={`plane-tilt-${k}`}
            value={tilt[k]}
            kind={only(ANGLE, (value) => value > -180 && value <= 180, 'Degrees from -180 to 180')}
            narrow
            onSettle={(degrees) => place({ tilt: k === 0 ? [degrees, tilt[1]] : [tilt[0], degrees] })}
          />
        </Row>
      ))}
    </>
  );
}

/** The gap between the sides along each axis. */
function Gap() {
  const gap = useStore(sliceStore, (s) => s.gap);
  return (
    <Row name="gap">
      {(['x', 'y', 'z'] as const).map((axis, k) => (
        <span key={axis} className="ml-2">
          {axis}{' '}
          <NumberField
            label={`Gap along ${axis}`}
            testId={`gap-${axis}`}
            value={gap[k] ?? 0}
            kind={COORDINATE}
            narrow
            onSettle={(value) => setSlice({ gap: gap.toSpliced(k, 1, value) as [number, number, number] })}
          />
        </span>
      ))}
    </Row>
  );
}

export function useSliceAside(): string | undefined {
  const { line, placed, count } = useStore(
    sliceStore,
    useShallow(({ line, placed, count }) => ({ line, placed, count })),
  );
  if (line || placed) return countOf(count, 'plane');
  return undefined;
}

export function useSliceChanged(): string[] {
  const { after, count, through, cap, asParts } = useStore(
    sliceStore,
    useShallow(({ after, count, through, cap, asParts }) => ({ after, count, through, cap, asParts })),
  );
  return [
    after !== SLICE_DEFAULTS.after && { keep: '', discard: 'discard', part: 'part', halve: 'halve' }[after],
    count > 1 && `${count} planes`,
    !through && 'near side',
    cap && 'caps',
    asParts && 'as parts',
  ].filter((words): words is string => typeof words === 'string' && words !== '');
}
