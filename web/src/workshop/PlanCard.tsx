/** The plan in words and numbers: what it is on, its points, what it adds, why it can't be made. */
import { Plus, X } from 'lucide-react';
import type { ReactNode } from 'react';
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import type { Schemas } from '../api/client';
import { partStore } from '../stores/partStore';
import { pickStore } from '../stores/pickStore';
import {
  DEFAULT_SETTINGS,
  type OpenEnds,
  type PlanLine,
  type PlanState,
  planStore,
  pointCount,
} from '../stores/planStore';
import {
  beginLine,
  canMake,
  discard,
  insertAfter,
  make,
  removePoint,
  resetSettings,
  setOpenEnds,
  setShare,
} from '../tools/knife/knife';
import { same } from '../tools/knife/lines';
import { setLimited } from '../tools/pick/pick';
import { Button } from '../ui/Button';
import { Card } from '../ui/Card';
import { Choice } from '../ui/Choice';
import { NumberField } from '../ui/NumberField';
import { countOf, formatLength, formatShare, parseShare } from '../ui/numbers';
import { MarkSign } from '../viewport/MarkSign';
import { distance, type Place } from '../viewport/projection';
import { stageOf } from '../viewport/stageOf';

const ENDS: [OpenEnds, string][] = [
  ['trim', 'trimmed to the last edge'],
  ['extend', 'extended to the border'],
  ['join', 'joined to a corner'],
];

export function PlanCard() {
  const part = useStore(partStore, (s) => s.part);
  const busy = useStore(partStore, (s) => s.busy);
  const lines = useStore(planStore, (s) => s.lines);
  const plan = useStore(planStore, (s) => s.plan);
  const trouble = useStore(planStore, (s) => s.trouble);
  const openEnds = useStore(planStore, (s) => s.openEnds);
  const points = pointCount(lines);
  const drawn = lines.filter((line) => line.points.length > 0);
  const count = drawn.filter((line) => !line.goesOn).length;
  const views = [...new Set(drawn.map((line) => line.viewName))];
  const aside = points ? `knife line · ${countOf(count, 'line')}, ${countOf(points, 'point')}` : undefined;
  return (
    <Card title="Plan" aside={aside} testId="plan">
      {points === 0 && <p className="mb-1 text-soft">Nothing is planned. The first point begins a line.</p>}
      <Row name="on">{part?.name}</Row>
      <Limit />
      {points > 0 && <Row name="aimed from">{views.join(', ')}</Row>}
      {plan && plan.far_crossings > 0 && (
        <Row name="far side">{countOf(plan.far_crossings, 'crossing')} on the far side</Row>
      )}
      <Row name="open ends">
        <Choice label="Open ends" testId="open-ends" value={openEnds} options={ENDS} onChange={setOpenEnds} />
      </Row>
      <NotAtDefault />
      {points > 0 && (
        <>
          <ol className="mt-1 mb-1" data-testid="plan-items">
            {plan?.lines.map((points, l) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: lines of a plan are told apart by their order
              <Items key={l} points={points} at={l} lines={lines} drawn={drawn} />
            ))}
          </ol>
          <button type="button" onClick={beginLine} className="stitched mb-2 text-[13.5px] text-soft hover:text-ink">
            New line
          </button>
          {plan && (
            <p className="flex justify-between text-[13.5px] text-soft" data-testid="plan-adds">
              <span>
                {countOf(plan.new_vertices, 'new vertex', 'new vertices')} · {countOf(plan.new_edges, 'new edge')}
              </span>
              <span>{countOf(together(plan.notes).length, 'note')}</span>
            </p>
          )}
          {plan?.refusal && points > 1 && <Remark note={plan.refusal} stops />}
          {plan && together(plan.notes).map((note) => <Remark key={note.code + note.words} note={note} />)}
          {trouble && (
            <p
              role="alert"
              data-testid="trouble"
              className="mt-2 rounded border border-ochre px-2.5 py-1.5 text-[13.5px]"
            >
              {trouble}
            </p>
          )}
          <div className="mt-3 flex gap-2">
            <Button look="primary" className="flex-1" disabled={!canMake() || busy} onClick={() => void make()}>
              Make the cut{' '}
              <span className="ml-auto" aria-hidden>
                ↵
              </span>
            </Button>
            <Button onClick={discard}>Discard</Button>
          </div>
        </>
      )}
    </Card>
  );
}

/** Notes that say the same of several places, as one. */
function together(notes: Schemas['NoteOut'][]): Schemas['NoteOut'][] {
  const found = new Map<string, Schemas['NoteOut']>();
  for (const note of notes) {
    const same = found.get(note.words);
    found.set(note.words, { ...note, places: [...(same?.places ?? []), ...note.places] });
  }
  return [...found.values()];
}

function Row({ name, children }: { name: string; children: ReactNode }) {
  return (
    <p className="flex justify-between gap-3 leading-7">
      <span className="shrink-0 text-soft">{name}</span>
      <span className="truncate">{children}</span>
    </p>
  );
}

/** The faces that the cut is confined to, and the way to lift that. */
function Limit() {
  const { faces, limited, shown } = useStore(pickStore);
  const hidden = shown !== null && ' · hidden faces are left alone';
  return (
    <div data-testid="limit" data-faces={limited ? faces.length : 0}>
      <Row name="limit">
        {faces.length > 0 && limited ? (
          <span className="hatched inline-flex items-center gap-1 rounded px-2">
            {countOf(faces.length, 'picked face')}
            <button type="button" aria-label="Lift the limit" onClick={() => setLimited(false)}>
              <X size={14} />
            </button>
          </span>
        ) : (
          <>
            the whole part{hidden}
            {faces.length > 0 && (
              <button type="button" className="ml-2 underline" onClick={() => setLimited(true)}>
                to {countOf(faces.length, 'picked face')}
              </button>
            )}
          </>
        )}
      </Row>
    </div>
  );
}

const settingsOf = ({ stops, lock, mirror, openEnds, through }: PlanState) => ({
  stops,
  lock,
  mirror,
  openEnds,
  through,
});

/** Settings that change what the cut does and are not at their defaults, with one way back. */
function NotAtDefault() {
  const { stops, lock, mirror, openEnds, through } = useStore(planStore, useShallow(settingsOf));
  const changed = [
    !same(stops, DEFAULT_SETTINGS.stops) && 'stops',
    lock.kind !== DEFAULT_SETTINGS.lock.kind && 'lock',
    mirror !== null && `mirror across ${mirror.axis}`,
    openEnds !== DEFAULT_SETTINGS.openEnds && 'open ends',
    through && 'right through',
  ].filter(Boolean);
  if (changed.length === 0) return null;
  return (
    <div data-testid="not-at-default">
      <Row name="not at default">
        {changed.join(' · ')}
        <button type="button" className="ml-2 underline" onClick={resetSettings}>
          reset
        </button>
      </Row>
    </div>
  );
}

interface ItemsProps {
  points: Schemas['PointOut'][];
  /** The number of the line among those drawn. */
  at: number;
  lines: PlanLine[];
  drawn: PlanLine[];
}

function Items({ points, at, lines, drawn }: ItemsProps) {
  const lit = useStore(planStore, (s) => s.lit);
  const inserting = useStore(planStore, (s) => s.insertAfter);
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

function Share({ point, share, line, at }: { point: Schemas['PointOut']; share: number; line: number; at: number }) {
  const edge = point.edge as [Place, Place] | null;
  const stops = useStore(planStore, (s) => s.stops);
  return (
    <NumberField
      label={`Share of point ${at + 1}`}
      value={share}
      format={formatShare}
      parse={(text) => parseShare(text, edge && distance(edge[0], edge[1]))}
      expected="A share from 0 to 100 %, such as 25%, 1/4 or 12.5mm"
      step={stops && 'share' in stops ? stops.share : 0.01}
      narrow
      onSettle={(next) => setShare({ line, point: at }, next)}
      testId={`share-${line}-${at}`}
    />
  );
}

function Remark({ note, stops = false }: { note: Schemas['NoteOut']; stops?: boolean }) {
  const show = () => void stageOf.current?.showPlaces(note.places as [number, number, number][]);
  return (
    <p
      role={stops ? 'alert' : 'note'}
      data-testid={stops ? 'refusal' : 'note'}
      data-code={note.code}
      className={`mt-2 flex items-start justify-between gap-2 rounded border px-2.5 py-1.5 text-[13.5px] ${stops ? 'border-thread' : 'border-rule'}`}
    >
      <span>
        {stops ? `Can't be made: ${note.words}.` : note.words}
        {note.places.length > 1 && ` (${countOf(note.places.length, 'place')})`}
      </span>
      {note.places.length > 0 && (
        <button type="button" className="underline" onClick={show}>
          Show
        </button>
      )}
    </p>
  );
}
