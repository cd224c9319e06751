/** The planned lines in words and numbers: every point can be typed over, put in between, taken out. */
import { Plus, X } from 'lucide-react';
import type { ReactNode } from 'react';
import { useStore } from 'zustand';
import type { Schemas } from '../../api/client';
import { distance, type Place } from '../../space/projection';
import { extraOf, planStore } from '../../stores/planStore';
import { NumberField } from '../../ui/NumberField';
import { countOf, formatLength, formatShare, parseShare } from '../../ui/numbers';
import { Row } from '../../ui/Row';
import { ChoiceRow } from '../../ui/rows';
import { MarkSign } from '../../viewport/MarkSign';
import { beginLine, insertAfter, removePoint, setKnife, setShare } from './knife';
import { KNIFE_DEFAULTS, knifeStore, type OpenEnds, type PlanLine, pointCount } from './knifeStore';
import { breakAlongLines } from './shardLines';

const ENDS: [OpenEnds, string][] = [
  ['trim', 'trimmed to the last edge'],
  ['extend', 'extended to the boundary'],
  ['join', 'joined to a corner'],
];

export function KnifePlan() {
  const lines = useStore(knifeStore, (s) => s.lines);
  const plan = useStore(planStore, (s) => s.plan);
  const drawn = lines.filter((line) => line.points.length > 0);
  return (
    <>
      {drawn.length > 0 && (
        <>
          <ol className="mt-1 mb-1" data-testid="plan-items">
            {extraOf(plan, 'knife')?.lines.map((points, l) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: lines of a plan are told apart by their order
              <Items key={l} points={points} at={l} lines={lines} drawn={drawn} />
            ))}
          </ol>
          <button type="button" onClick={beginLine} className="stitched mb-2 text-[13.5px] text-soft hover:text-ink">
            New line
          </button>
          <button
            type="button"
            data-testid="break-along"
            onClick={breakAlongLines}
            className="stitched mb-2 ml-3 text-[13.5px] text-soft hover:text-ink"
          >
            Break along them
          </button>
        </>
      )}
    </>
  );
}

/** Where lines were aimed from, and what becomes of their ends. */
export function KnifeMore() {
  const lines = useStore(knifeStore, (s) => s.lines);
  const openEnds = useStore(knifeStore, (s) => s.openEnds);
  const plan = useStore(planStore, (s) => s.plan);
  const views = [...new Set(lines.filter((line) => line.points.length > 0).map((line) => line.viewName))];
  return (
    <>
      {views.length > 0 && <Row name="aimed from">{views.join(', ')}</Row>}
      {plan && plan.far_crossings > 0 && (
        <Row name="far side">{countOf(plan.far_crossings, 'crossing')} on the far side</Row>
      )}
      <ChoiceRow
        name="open ends"
        label="Open ends"
        testId="open-ends"
        value={openEnds}
        options={ENDS}
        onChange={(next) => setKnife({ openEnds: next })}
      />
    </>
  );
}

/** What is planned, in a few words. */
export function useKnifeAside(): string | undefined {
  const lines = useStore(knifeStore, (s) => s.lines);
  const points = pointCount(lines);
  const count = lines.filter((line) => line.points.length > 0 && !line.goesOn).length;
  return points ? `${countOf(count, 'line')}, ${countOf(points, 'point')}` : undefined;
}

/** The settings that are not at their defaults. */
export function useKnifeChanged(): string[] {
  const openEnds = useStore(knifeStore, (s) => s.openEnds);
  const through = useStore(knifeStore, (s) => s.through);
  return [openEnds !== KNIFE_DEFAULTS.openEnds && 'open ends', through && 'right through'].filter((w) => w !== false);
}

interface ItemsProps {
  points: Schemas['PlannedPoint'][];
  /** The number of the line among those drawn. */
  at: number;
  lines: PlanLine[];
  drawn: PlanLine[];
}

function Items({ points, at, lines, drawn }: ItemsProps) {
  const lit = useStore(planStore, (s) => s.lit);
  const inserting = useStore(knifeStore, (s) => s.insertAfter);
  const planned = drawn[at];
  const line = planned ? lines.indexOf(planned) : at;
  const goesOn = planned?.goesOn ?? false;
  const before = drawn.slice(0, at).reduce((sum, one) => sum + one.points.length - (one.goesOn ? 1 : 0), 0);
  return points.map((point, p) => {
    if (goesOn && p === 0) return null;
    const key = `${at}.${p}`;
    const place = { line, point: p };
    const waiting = inserting?.line === line && inserting.point === p;
    return (
      <li
        // biome-ignore lint/suspicious/noArrayIndexKey: points of a line are told apart by their order
        key={p}
        data-kind={point.kind}
        onPointerEnter={() => planStore.setState({ lit: key })}
        onPointerLeave={() => planStore.setState({ lit: null })}
        className={`group flex h-[25px] items-center border-rule border-b ${lit === key ? 'bg-paper' : ''} ${p === 0 && at > 0 ? 'border-t-2' : ''}`}
      >
        <span className="w-5 text-soft">{before + p + (goesOn ? 0 : 1)}</span>
        <svg viewBox="-12 -12 24 24" className="mr-1.5 h-[18px] w-[18px] shrink-0" aria-hidden="true">
          <MarkSign kind={point.kind} at={[0, 0]} />
        </svg>
        <span className="flex-1 truncate">
          {point.share != null && <Share point={point} share={point.share} line={line} at={p} />}
          <span className={point.share == null ? '' : 'text-[13px] text-soft'}>{point.words}</span>
        </span>
        <span className={`items-center group-hover:flex group-focus-within:flex ${waiting ? 'flex' : 'hidden'}`}>
          <RowButton label={`Insert a point after point ${p + 1}`} on={waiting} onClick={() => insertAfter(place)}>
            <Plus size={14} />
          </RowButton>
          <RowButton label={`Remove point ${p + 1}`} onClick={() => removePoint(place)}>
            <X size={14} />
          </RowButton>
        </span>
        <span className="pl-1 tabular-nums">
          {point.length == null ? '' : formatLength(point.length)}
          {planned?.closed && p === points.length - 1 && ' ↺'}
        </span>
      </li>
    );
  });
}

function RowButton({
  label,
  on = false,
  onClick,
  children,
}: {
  label: string;
  on?: boolean;
  onClick: () => void;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      aria-pressed={on}
      onClick={onClick}
      className={`flex h-5 w-5 items-center justify-center rounded ${on ? 'bg-tide text-on-tide' : 'hover:bg-rule'}`}
    >
      {children}
    </button>
  );
}

function Share({
  point,
  share,
  line,
  at,
}: {
  point: Schemas['PlannedPoint'];
  share: number;
  line: number;
  at: number;
}) {
  const edge = point.edge as [Place, Place] | null;
  const stops = useStore(planStore, (s) => s.stops);
  return (
    <NumberField
      label={`Share of point ${at + 1}`}
      value={share}
      kind={{
        format: formatShare,
        parse: (text) => parseShare(text, edge && distance(edge[0], edge[1])),
        expected: 'A share from 0 to 100 %, such as 25%, 1/4 or 12.5mm',
        step: stops && 'share' in stops ? stops.share : 0.01,
      }}
      narrow
      onSettle={(next) => setShare({ line, point: at }, next)}
      testId={`share-${line}-${at}`}
    />
  );
}
