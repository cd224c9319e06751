/** The ruled lines in numbers: how many, how far apart, which way, how far they run. */

import { X } from 'lucide-react';
import { useStore } from 'zustand';
import { LIMITS } from '../../api/limits';
import { extraOf, planStore } from '../../stores/planStore';
import { ANGLE, CROWDING, LENGTH, only, wholeNumber } from '../../ui/kinds';
import { countOf, parseList } from '../../ui/numbers';
import { Row } from '../../ui/Row';
import { ChoiceRow, NumberRow, TickRow } from '../../ui/rows';
import { TextField } from '../../ui/TextField';
import { askAlong, removeBase, setRuled, wantLines } from './ruled';
import { type Places, RULED_DEFAULTS, type RuledState, ruledStore } from './ruledStore';

const BY: [Places['by'], string][] = [
  ['count', 'so many'],
  ['spacing', 'one every'],
  ['list', 'at places'],
];
const FIRST: Record<Places['by'], Places> = {
  count: RULED_DEFAULTS.places as Places,
  spacing: { by: 'spacing', every: 10 },
  list: { by: 'list', at: [0.5], measure: 'share', text: '50%' },
};
const TOWARDS: ['square' | 'half' | 'angle' | 'along', string][] = [
  ['square', 'square to the base'],
  ['half', 'at 45°, off the foot'],
  ['angle', 'at an angle'],
  ['along', 'along another edge'],
];
const ENDS: [RuledState['ends'], string][] = [
  ['border', 'the boundary of what may be cut'],
  ['first edge', 'the first edge'],
  ['whole part', 'right round the part'],
];
const TURN = only(ANGLE, (degrees) => degrees > 0 && degrees < 180, 'Degrees between 0 and 180');

function towards({ along, asking, degrees }: RuledState): (typeof TOWARDS)[number][0] {
  if (along || asking) return 'along';
  return degrees === 90 ? 'square' : degrees === 45 ? 'half' : 'angle';
}

export function RuledPlan() {
  const state = useStore(ruledStore);
  const { bases, places, degrees, along, ends, asking } = state;
  const told = useStore(planStore, (s) => extraOf(s.plan, 'ruled'));
  const way = towards(state);
  const turnTo = (next: typeof way): void => {
    if (next === 'along') askAlong();
    else setRuled({ along: null, asking: false, degrees: { square: 90, half: 45, angle: 60 }[next] });
  };
  return (
    <>
      <ChoiceRow
        name="lines"
        label="How places are given"
        testId="ruled-by"
        value={places.by}
        options={BY}
        onChange={(by) => setRuled({ places: FIRST[by] })}
      />
      <PlaceRows places={places} />
      <ChoiceRow
        name="direction"
        label="Which way lines run"
        testId="ruled-towards"
        value={way}
        options={TOWARDS}
        onChange={turnTo}
      />
      {asking && <p className="text-soft leading-6">Click the edge that lines are to run along.</p>}
      {along && <Row name="along">{along.join('–')}</Row>}
      {way === 'angle' && (
        <NumberRow
          name="angle"
          label="Angle from the base"
          testId="ruled-angle"
          value={degrees}
          kind={TURN}
          narrow
          onSettle={(next) => setRuled({ degrees: next })}
        />
      )}
      <ChoiceRow
        name="up to"
        label="How far lines run"
        testId="ruled-ends"
        value={ends}
        options={ENDS}
        onChange={(next) => setRuled({ ends: next })}
      />
      {bases.length > 0 && (
        <>
          <ol className="my-1" data-testid="plan-items">
            {bases.map((base, k) => (
              <li key={base.edge.join()} className="flex h-[25px] items-center border-rule border-b">
                <span className="w-5 text-soft">{k + 1}</span>
                <span className="flex-1">base {base.edge.join('–')}</span>
                <span className="pr-1 tabular-nums">
                  {countOf(told?.stops.filter((stop) => stop.base === k && stop.wanted).length ?? 0, 'line')}
                </span>
                <button
                  type="button"
                  aria-label={`Remove base ${k + 1}`}
                  onClick={() => removeBase(k)}
                  className="flex h-5 w-5 items-center justify-center rounded text-soft hover:bg-rule"
                >
                  <X size={14} />
                </button>
              </li>
            ))}
          </ol>
          <p className="flex gap-4 pb-1 text-[13.5px] text-soft">
            <button type="button" className="stitched hover:text-ink" onClick={() => wantLines(true)}>
              All lines
            </button>
            <button type="button" className="stitched hover:text-ink" onClick={() => wantLines(false)}>
              None
            </button>
          </p>
        </>
      )}
    </>
  );
}

/** How far from their bases lines are ruled, and whether they lean both ways. */
export function RuledMore() {
  const { side, leaning } = useStore(ruledStore);
  return (
    <>
      <TickRow
        name="the whole side"
        tip="Lines leave the whole side of the picked faces that the base edge lies on."
        on={side === 'whole'}
        onChange={(whole) => setRuled({ side: whole ? 'whole' : 'edge' })}
      />
      <TickRow
        name="leaning the other way, too"
        tip="Lines at the same angle to the other side are planned as well, crossing the first."
        on={leaning === 'both ways'}
        onChange={(both) => setRuled({ leaning: both ? 'both ways' : 'one way' })}
      />
    </>
  );
}

function PlaceRows({ places }: { places: Places }) {
  if (places.by === 'count')
    return (
      <>
        <NumberRow
          name="count"
          label="How many lines"
          testId="ruled-count"
          value={places.count}
          kind={wholeNumber(LIMITS.Spread.count)}
          narrow
          onSettle={(count) => setRuled({ places: { ...places, count } })}
        />
        <NumberRow
          name="crowding"
          label="How much wider each gap is than the one before"
          testId="ruled-ratio"
          value={places.ratio}
          kind={CROWDING}
          onSettle={(ratio) => setRuled({ places: { ...places, ratio } })}
        />
      </>
    );
  if (places.by === 'spacing')
    return (
      <NumberRow
        name="every"
        label="Distance between lines"
        testId="ruled-every"
        value={places.every}
        kind={LENGTH}
        onSettle={(every) => setRuled({ places: { by: 'spacing', every } })}
      />
    );
  return (
    <Row name="at">
      <TextField
        label="The places of lines"
        testId="ruled-list"
        value={places.text}
        placeholder="20% 50% 80%"
        expected="Shares or lengths, such as 20% 50% 80% or 5mm 10mm"
        accepts={(text) => parseList(text) !== null}
        onSettle={(text) => {
          const list = parseList(text);
          if (list) setRuled({ places: { by: 'list', ...list, text } });
        }}
      />
    </Row>
  );
}

/** What is planned, in a few words. */
export function useRuledAside(): string | undefined {
  const count = useStore(ruledStore, (s) => s.bases.length);
  const drawn = useStore(planStore, (s) => extraOf(s.plan, 'ruled')?.drawn);
  return count ? `${countOf(count, 'base')}, ${countOf(drawn ?? 0, 'line')}` : undefined;
}

/** The settings that are not at their defaults. */
export function useRuledChanged(): string[] {
  const { degrees, along, ends, leaning, side } = useStore(ruledStore);
  return [
    along ? 'along an edge' : degrees !== 90 && `${degrees}°`,
    ends !== 'border' && ends,
    leaning === 'both ways' && 'both ways',
    side === 'whole' && 'whole side',
  ].filter((words): words is string => typeof words === 'string');
}
