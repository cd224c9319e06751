/** The planned loop in numbers: where, how many, how lifted, where it ends and why. */

import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { LIMITS } from '../../api/limits';
import { distance } from '../../space/projection';
import { pickStore } from '../../stores/pickStore';
import { extraOf, planStore } from '../../stores/planStore';
import { Choice } from '../../ui/Choice';
import { CROWDING, wholeNumber } from '../../ui/kinds';
import { NumberField } from '../../ui/NumberField';
import { countOf, formatLength, formatShare, parseLength, parseList, parseShare } from '../../ui/numbers';
import { Row } from '../../ui/Row';
import { ChoiceRow, NumberRow } from '../../ui/rows';
import { SliderField } from '../../ui/SliderField';
import { TextField } from '../../ui/TextField';
import { stageOf } from '../../viewport/stageOf';
import { plannedOnEdge, setLoop, setMeasure, setPlace, setPlaces } from './loop';
import { LOOP_DEFAULTS, loopStore } from './loopStore';

export function LoopPlan() {
  const planned = useStore(loopStore, (s) => s.planned);
  const places = useStore(loopStore, (s) => s.places);
  const alongPick = useStore(loopStore, (s) => s.alongPick);
  const pickedEdges = useStore(pickStore, (s) => s.edges.length);
  const count = places.by === 'spread' ? places.count : places.by === 'list' ? places.at.length : 1;
  return (
    <>
      <NumberRow
        name="loops"
        label="How many loops"
        testId="loop-count"
        value={count}
        kind={wholeNumber(LIMITS.Spread.count)}
        narrow
        onSettle={(next) =>
          setPlaces(next === 1 ? { by: 'one' } : { by: 'spread', count: next, ratio: ratioOf(places) })
        }
      />
      {places.by === 'spread' && (
        <NumberRow
          name="crowding"
          label="How much wider each gap is than the one before"
          testId="loop-ratio"
          value={places.ratio}
          kind={CROWDING}
          onSettle={(ratio) => setPlaces({ ...places, ratio })}
        />
      )}
      {planned && places.by === 'one' && <PlaceRow at={planned.at} />}
      <Row name="or at">
        <TextField
          label="A list of places"
          testId="loop-list"
          value={places.by === 'list' ? places.text : ''}
          placeholder="20% 50% 80%"
          expected="Shares or lengths, such as 20% 50% 80% or 5mm 10mm"
          accepts={(text) => text.trim() === '' || parseList(text) !== null}
          onSettle={(text) => {
            const list = parseList(text);
            setPlaces(list ? { by: 'list', ...list, text } : { by: 'one' });
          }}
        />
      </Row>
      {(pickedEdges > 0 || alongPick) && (
        <ChoiceRow
          name="runs"
          label="How far it runs"
          testId="loop-along"
          value={alongPick ? 'pick' : 'ring'}
          options={[
            ['ring', 'round the whole ring'],
            ['pick', `along ${countOf(pickedEdges, 'picked edge')}`],
          ]}
          onChange={(next) => setLoop({ alongPick: next === 'pick' })}
        />
      )}
      {planned && <Ends />}
    </>
  );
}

export function LoopMore() {
  const extraPoints = useStore(loopStore, (s) => s.extraPoints);
  return (
    <NumberRow
      name="extra points"
      label="Extra points on each new edge"
      testId="loop-extra"
      value={extraPoints}
      kind={wholeNumber(LIMITS.LoopParams.extra_points, 'none')}
      narrow
      onSettle={(next) => setLoop({ extraPoints: next })}
    />
  );
}

function ratioOf(places: { by: string; ratio?: number }): number {
  return places.by === 'spread' ? (places.ratio ?? 1) : 1;
}

/** The place of a single loop, by share or by distance from the foot. */
function PlaceRow({ at }: { at: number }) {
  const measure = useStore(loopStore, (s) => s.measure);
  const ends = plannedOnEdge();
  const length = ends && distance(ends.from, ends.to);
  const far = measure === 'distance';
  return (
    <div>
      <Row name="at">
        <NumberField
          label={far ? 'Distance of the loop from the foot' : 'Share of the loop from the foot'}
          testId="loop-at"
          value={at}
          kind={{
            format: far ? formatLength : formatShare,
            parse: (text) => (far ? parseLength(text) : parseShare(text, length)),
            expected: far ? 'A length, such as 5mm or 3cm/2' : 'A share from 0 to 100 %, such as 25%, 1/4 or 12.5mm',
            step: far ? 1 : 0.05,
          }}
          onSettle={setPlace}
        />{' '}
        <Choice
          label="How places are measured"
          testId="loop-measure"
          value={measure}
          options={[
            ['share', 'share of each edge'],
            ['distance', 'same distance all round'],
          ]}
          onChange={setMeasure}
        />
      </Row>
      {length !== null && (
        <p className="flex">
          <SliderField
            label="Slide the loop"
            testId="loop-slider"
            value={far ? at / length : at}
            step={0.01}
            onChange={(share) => setPlace(far ? share * length : share)}
          />
        </p>
      )}
    </div>
  );
}

/** Where the loop ends and why, with the way on where there is one. */
function Ends() {
  const plan = useStore(planStore, (s) => s.plan);
  const through = useStore(loopStore, (s) => s.through);
  const extra = extraOf(plan, 'loop');
  if (!extra || plan?.refusal) return null;
  if (extra.ends.length === 0) return <Row name="ends">nowhere: it closes on itself</Row>;
  return (
    <ul className="mt-1" data-testid="loop-ends">
      {extra.ends.map((end) => (
        <li
          key={end.at.join()}
          data-code={end.code}
          className="mb-1 flex flex-wrap items-baseline justify-between gap-x-2 rounded border border-rule px-2.5 py-1 text-[13.5px]"
        >
          <span>{end.words}</span>
          <span className="ml-auto inline-flex gap-3">
            {end.through !== null && (
              <button
                type="button"
                className="font-semibold text-tide underline"
                onClick={() => setLoop({ through: [...through, end.through as number] })}
              >
                Go on through it
              </button>
            )}
            <button
              type="button"
              className="underline"
              onClick={() => void stageOf.current?.showPlaces([end.at as [number, number, number]])}
            >
              Show
            </button>
          </span>
        </li>
      ))}
    </ul>
  );
}

export function useLoopAside(): string | undefined {
  const planned = useStore(loopStore, (s) => s.planned);
  const places = useStore(loopStore, (s) => s.places);
  if (!planned) return undefined;
  return countOf(places.by === 'spread' ? places.count : places.by === 'list' ? places.at.length : 1, 'loop');
}

export function useLoopChanged(): string[] {
  const { places, measure, extraPoints, alongPick, flipped, through } = useStore(
    loopStore,
    useShallow(({ places, measure, extraPoints, alongPick, flipped, through }) => ({
      places,
      measure,
      extraPoints,
      alongPick,
      flipped,
      through,
    })),
  );
  return [
    places.by !== 'one' && (places.by === 'list' ? 'a list of places' : `${places.count} loops`),
    measure !== LOOP_DEFAULTS.measure && 'by distance',
    extraPoints > 0 && 'extra points',
    alongPick && 'along the pick',
    flipped && 'from the other end',
    through.length > 0 && `through ${countOf(through.length, 'n-gon')}`,
  ].filter((words) => words !== false);
}
