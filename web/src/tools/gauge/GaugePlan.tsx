/** The list of distances: each row is a cut; the total stands beside the size of the part. */
import { X } from 'lucide-react';
import { useState } from 'react';
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import type { Schemas } from '../../api/client';
import type { Setting } from '../../hand/tool';
import { partStore } from '../../stores/partStore';
import { extraOf, planStore } from '../../stores/planStore';
import { Choice } from '../../ui/Choice';
import { ANGLE, LENGTH, only, POSITION } from '../../ui/kinds';
import { NumberField } from '../../ui/NumberField';
import { countOf, formatAngle, formatLength, parseLength } from '../../ui/numbers';
import { Row } from '../../ui/Row';
import { ChoiceRow } from '../../ui/rows';
import { addWidths, isAxis, isProfile, mirrorList, setAlong, setGauge, setMeasure } from './gauge';
import { type Along, type Axis, GAUGE_DEFAULTS, gaugeStore } from './gaugeStore';
import { KeptLists } from './KeptLists';
import { parseWidths, positionsOf } from './widths';

const PROFILE_HEEDS: Setting[] = ['finish'];
export const GAUGE_HEEDS: Setting[] = ['mirror', 'limit', 'finish', 'woven', 'hard above', 'follow'];

const ALONG: [Along, string][] = [
  ['x', 'x'],
  ['y', 'y'],
  ['z', 'z'],
  ['edge', 'the picked edge'],
  ['face', 'the normal of the picked face'],
];
const NOTHING: Record<string, string> = {
  'gauge-on-the-end': 'on the end',
  'gauge-off-the-part': 'off the part',
  'gauge-twice': 'there twice',
  'gauge-on-a-loop': 'on a loop',
  'gauge-misses': 'meets nothing',
};

export function GaugePlan() {
  const { widths, along, start } = useStore(
    gaugeStore,
    useShallow(({ widths, along, start }) => ({ widths, along, start })),
  );
  const profile = useStore(gaugeStore, isProfile);
  const gauge = useStore(planStore, (s) => extraOf(s.plan, 'gauge'));
  return (
    <>
      <ChoiceRow
        name="along"
        label="What distances run along"
        testId="gauge-along"
        value={along}
        options={ALONG}
        onChange={setAlong}
      />
      <ChoiceRow
        name="counted from"
        label="Where distances are counted from"
        testId="gauge-start"
        value={start ?? 'low'}
        options={[
          ['low', 'the low side'],
          ['high', 'the high side'],
          ['centre', 'the centre, both ways'],
        ]}
        onChange={(next) => setGauge({ start: next })}
      />
      <ol className="mt-1" data-testid="gauge-rows">
        {widths.map((width, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: rows of a list are told apart by their order
          <Distance key={k} number={k} width={width} cuts={gauge?.cuts.filter((cut) => cut.width === k) ?? []} />
        ))}
      </ol>
      <AddField />
      {widths.length > 0 && <Total />}
      {profile && (
        <p className="mt-1 text-[13.5px] text-soft" data-testid="profile-says">
          Rings are sized to the diameters given: a profile takes no tilt, limit or mirror.
        </p>
      )}
    </>
  );
}

/** What the numbers are, the tilt of the cuts, and lists that are kept. */
export function GaugeMore() {
  const { widths, along, measure, tilt } = useStore(
    gaugeStore,
    useShallow(({ widths, along, measure, tilt }) => ({ widths, along, measure, tilt })),
  );
  const gauge = useStore(planStore, (s) => extraOf(s.plan, 'gauge'));
  return (
    <>
      <ChoiceRow
        name="numbers are"
        label="What the numbers are"
        testId="gauge-measure"
        value={measure ?? 'gaps'}
        options={[
          ['gaps', 'gaps between cuts'],
          ['positions', 'distances from there'],
        ]}
        onChange={setMeasure}
      />
      <Tilting tilt={tilt} along={along} />
      {widths.length > 0 && (
        <p className="mt-1 text-[13.5px]">
          <button type="button" disabled={!gauge} className="stitched text-soft hover:text-ink" onClick={mirrorList}>
            Mirror the list about the middle
          </button>
        </p>
      )}
      <KeptLists />
    </>
  );
}

function Tilting({ tilt, along }: { tilt: { about: Axis; degrees: number }; along: Along }) {
  const axes = (['x', 'y', 'z'] as const).filter((axis) => axis !== along);
  const about = axes.includes(tilt.about) ? tilt.about : (axes[0] ?? 'x');
  return (
    <Row name="tilt">
      <NumberField
        label="Tilt of the cuts"
        testId="gauge-tilt"
        value={tilt.degrees}
        kind={only(ANGLE, (value) => Math.abs(value) < 90, 'Degrees between -90 and 90')}
        narrow
        onSettle={(degrees) => setGauge({ tilt: { about, degrees } })}
      />{' '}
      <Choice
        label="What the cuts are tilted about"
        testId="gauge-tilt-about"
        value={about}
        options={axes.map((axis) => [axis, `about ${axis}`] as const)}
        onChange={(next) => setGauge({ tilt: { ...tilt, about: next } })}
      />
    </Row>
  );
}

function Distance({ number, width, cuts }: { number: number; width: number; cuts: Schemas['GaugeCutShown'][] }) {
  const widths = useStore(gaugeStore, (s) => s.widths);
  const diameters = useStore(gaugeStore, (s) => s.diameters);
  const sizes = useStore(gaugeStore, (s) => isAxis(s.along) && s.start !== 'centre');
  const diameter = diameters[number] ?? null;
  const lit = useStore(planStore, (s) => s.lit === `cut ${number}`);
  const nothing = cuts.find((cut) => cut.adds_nothing)?.adds_nothing;
  return (
    <li
      data-nothing={nothing ?? undefined}
      onPointerEnter={() => planStore.setState({ lit: `cut ${number}` })}
      onPointerLeave={() => planStore.setState({ lit: null })}
      className={`group flex h-[25px] items-center border-rule border-b ${lit ? 'bg-paper' : ''}`}
    >
      <span className="w-6 text-soft">{number + 1}</span>
      <NumberField
        label={`Distance ${number + 1}`}
        testId={`width-${number}`}
        value={width}
        kind={only(POSITION, (value) => value >= 0, LENGTH.expected)}
        onSettle={(next) => setGauge({ widths: widths.with(number, next) })}
      />
      {sizes && (
        <span className="ml-1 whitespace-nowrap text-soft">
          ⌀
          <NumberField
            label={`Diameter at distance ${number + 1}`}
            testId={`diameter-${number}`}
            value={diameter ?? Number.NaN}
            kind={{
              format: (value) => (Number.isNaN(value) ? '–' : formatLength(value)),
              parse: (text) => (/^\s*[–-]?\s*$/.test(text) ? Number.NaN : parseLength(text)),
              expected: 'The diameter of the ring there; empty leaves it',
              step: 1,
            }}
            onSettle={(next) => setGauge({ diameters: diameters.with(number, Number.isNaN(next) ? null : next) })}
          />
        </span>
      )}
      <span className={`ml-auto truncate pl-1 text-[13px] ${nothing ? 'text-ochre' : 'text-soft'}`}>
        {nothing
          ? (NOTHING[nothing] ?? 'adds nothing')
          : cuts.map((cut) => `at ${Number(cut.at.toFixed(3))}`).join(', ')}
      </span>
      <button
        type="button"
        aria-label={`Remove distance ${number + 1}`}
        onClick={() => setGauge({ widths: widths.toSpliced(number, 1), diameters: diameters.toSpliced(number, 1) })}
        className="ml-1 hidden h-5 w-5 items-center justify-center rounded hover:bg-rule group-focus-within:flex group-hover:flex"
      >
        <X size={14} />
      </button>
    </li>
  );
}

/** Where distances are typed one after another, or a column is pasted. */
function AddField() {
  const [typed, setTyped] = useState('');
  const [wrong, setWrong] = useState(false);
  const take = (text: string): void => {
    if (text.trim() === '') return;
    const more = parseWidths(text);
    setWrong(more === null);
    if (!more) return;
    addWidths(more);
    setTyped('');
  };
  return (
    <p className="relative my-1.5">
      <input
        aria-label="Add distances"
        aria-invalid={wrong}
        data-testid="gauge-add"
        value={typed}
        placeholder="add: 12.5, 3cm, 4x5mm, or paste a column"
        className={`stitched w-full bg-transparent outline-offset-4 placeholder:text-soft ${wrong ? 'text-thread' : ''}`}
        onChange={(event) => {
          setTyped(event.currentTarget.value);
          setWrong(false);
        }}
        onPaste={(event) => {
          const text = event.clipboardData.getData('text');
          // Of a column only one line would be left in a field of one line.
          if (!/\n/.test(text.trim())) return;
          event.preventDefault();
          take(text);
          if (parseWidths(text) === null) setTyped(text.trim().replace(/\s+/g, ' '));
        }}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && typed.trim() !== '') take(typed);
          else if (event.key === 'Enter' || event.key === 'Escape') event.currentTarget.blur();
          else return;
          event.preventDefault();
          event.stopPropagation();
        }}
      />
      {wrong && (
        <span
          role="alert"
          className="absolute top-full left-0 z-10 mt-1 w-max max-w-60 rounded bg-ink px-2 py-1 text-[13px] text-paper"
        >
          Lengths, such as 12.5 3cm or 4x5mm for four of 5 mm
        </span>
      )}
    </p>
  );
}

/** The running total beside the size of the part, and what is left over. */
function Total() {
  const { widths, measure, along, start } = useStore(
    gaugeStore,
    useShallow(({ widths, measure, along, start }) => ({ widths, measure, along, start })),
  );
  const part = useStore(partStore, (s) => s.part);
  const gauge = useStore(planStore, (s) => extraOf(s.plan, 'gauge'));
  const k = isAxis(along) ? ['x', 'y', 'z'].indexOf(along) : -1;
  const extent = gauge ? gauge.high - gauge.low : part && k >= 0 ? (part.high[k] ?? 0) - (part.low[k] ?? 0) : null;
  if (extent === null) return null;
  const room = start === 'centre' ? extent / 2 : extent;
  const total = Math.max(...positionsOf(widths, measure ?? 'gaps'));
  const left = room - total;
  const agrees = Math.abs(left) <= 1e-9 * extent;
  return (
    <p
      data-testid="gauge-total"
      className={`flex justify-between text-[13.5px] ${left < 0 && !agrees ? 'font-semibold text-ochre' : 'text-soft'}`}
    >
      <span>
        {formatLength(total)} of {formatLength(room)}
      </span>
      <span>
        {agrees ? 'nothing left' : left > 0 ? `${formatLength(left)} left` : `${formatLength(-left)} too long`}
      </span>
    </p>
  );
}

export function useGaugeAside(): string | undefined {
  const widths = useStore(gaugeStore, (s) => s.widths);
  return widths.length ? countOf(widths.length, 'distance') : undefined;
}

/** A profile sizes whole rings: of the shared settings it has only how faces end. */
export function useGaugeHeeded(): Setting[] {
  return useStore(gaugeStore, isProfile) ? PROFILE_HEEDS : GAUGE_HEEDS;
}

export function useGaugeChanged(): string[] {
  const { along, start, measure, tilt } = useStore(
    gaugeStore,
    useShallow(({ along, start, measure, tilt }) => ({ along, start, measure, tilt })),
  );
  return [
    along !== GAUGE_DEFAULTS.along && `along ${isAxis(along) ? along : `the ${along}`}`,
    start !== GAUGE_DEFAULTS.start && `from the ${start === 'high' ? 'high side' : 'centre'}`,
    measure !== GAUGE_DEFAULTS.measure && 'positions',
    tilt.degrees !== 0 && `tilt ${formatAngle(tilt.degrees)}`,
  ].filter((words) => words !== false);
}
