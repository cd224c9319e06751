/** The plan in words and numbers: what it is on, its points, what it adds, why it can't be made. */
import { useStore } from 'zustand';
import type { Schemas } from '../api/client';
import { partStore } from '../stores/partStore';
import { type PlanLine, planStore, pointCount } from '../stores/planStore';
import { toolStore } from '../stores/toolStore';
import { canMake, discard, make, setShare, setThrough } from '../tools/knife/knife';
import { Button } from '../ui/Button';
import { Card } from '../ui/Card';
import { NumberField } from '../ui/NumberField';
import { countOf, formatLength, formatShare, parseShare } from '../ui/numbers';
import { MarkSign } from '../viewport/MarkSign';
import { distance, type Place } from '../viewport/projection';
import { stageOf } from '../viewport/stageOf';

export function PlanCard() {
  const tool = useStore(toolStore, (s) => s.tool);
  const part = useStore(partStore, (s) => s.part);
  const busy = useStore(partStore, (s) => s.busy);
  const { lines, plan, trouble, through } = useStore(planStore);
  const points = pointCount(lines);
  const count = lines.filter((line) => !line.goesOn && line.points.length > 0).length;
  const aside = points ? `knife line · ${countOf(count, 'line')}, ${countOf(points, 'point')}` : undefined;
  return (
    <Card title="Plan" aside={aside} testId="plan">
      {points === 0 && (
        <p className="text-soft">
          {tool === null
            ? 'No tool in hand. Knife line is on the bench, key L.'
            : 'Nothing is planned. The first point begins a line.'}
        </p>
      )}
      {points > 0 && (
        <>
          <Row name="on">{part?.name}</Row>
          <Row name="reach">
            {through ? 'right through' : 'near side'}
            {through && plan && plan.far_crossings > 0 && ` · ${plan.far_crossings} on the far side`}
            {through && (
              <button type="button" className="ml-2 underline" onClick={() => setThrough(false)}>
                reset
              </button>
            )}
          </Row>
          <ol className="mt-1 mb-2" data-testid="plan-items">
            {plan?.lines.map((points, l) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: lines of a plan are told apart by their order
              <Items key={l} points={points} line={l} planned={drawn(lines)} />
            ))}
          </ol>
          {plan && (
            <p className="flex justify-between text-[13.5px] text-soft" data-testid="plan-adds">
              <span>
                {countOf(plan.new_vertices, 'new vertex', 'new vertices')} · {countOf(plan.new_edges, 'new edge')}
              </span>
              <span>{countOf(plan.notes.length, 'note')}</span>
            </p>
          )}
          {plan?.refusal && points > 1 && <Remark note={plan.refusal} stops />}
          {plan?.notes.map((note) => (
            <Remark key={note.code + JSON.stringify(note.places)} note={note} />
          ))}
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

const drawn = (lines: PlanLine[]): PlanLine[] => lines.filter((line) => line.points.length > 0);

function Row({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <p className="flex justify-between gap-3 leading-7">
      <span className="text-soft">{name}</span>
      <span className="truncate">{children}</span>
    </p>
  );
}

interface ItemsProps {
  points: Schemas['PointOut'][];
  line: number;
  planned: PlanLine[];
}

function Items({ points, line, planned }: ItemsProps) {
  const lit = useStore(planStore, (s) => s.lit);
  const goesOn = planned[line]?.goesOn ?? false;
  const before = planned.slice(0, line).reduce((sum, one) => sum + one.points.length - (one.goesOn ? 1 : 0), 0);
  return points.map((point, p) => {
    if (goesOn && p === 0) return null;
    const key = `${line}.${p}`;
    return (
      <li
        key={key}
        data-kind={point.kind}
        onPointerEnter={() => planStore.setState({ lit: key })}
        onPointerLeave={() => planStore.setState({ lit: null })}
        className={`flex h-[25px] items-center border-rule border-b ${lit === key ? 'bg-paper' : ''} ${p === 0 && line > 0 ? 'border-t-2' : ''}`}
      >
        <span className="w-6 text-soft">{before + p + (goesOn ? 0 : 1)}</span>
        <svg viewBox="-12 -12 24 24" className="mr-2 h-[18px] w-[18px]" aria-hidden="true">
          <MarkSign kind={point.kind} at={[0, 0]} />
        </svg>
        {point.share == null ? (
          <span className="flex-1 truncate">{point.words}</span>
        ) : (
          <span className="flex-1 truncate">
            <Share point={point} share={point.share} line={line} at={p} />
            <span className="text-[13px] text-soft">{point.words}</span>
          </span>
        )}
        <span className="tabular-nums">{point.length == null ? '' : formatLength(point.length)}</span>
      </li>
    );
  });
}

function Share({ point, share, line, at }: { point: Schemas['PointOut']; share: number; line: number; at: number }) {
  const edge = point.edge as [Place, Place] | null;
  const length = edge && distance(edge[0], edge[1]);
  return (
    <NumberField
      label={`Share of point ${at + 1}`}
      value={share}
      format={formatShare}
      parse={(text) => parseShare(text, length)}
      expected="A share from 0 to 100 %, such as 25%, 1/4 or 12.5mm"
      step={planStore.getState().step ?? 0.01}
      onSettle={(next) => setShare(line, at, next)}
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
      className={`mt-2 flex items-start justify-between gap-2 rounded border px-2.5 py-1.5 text-[13.5px] ${stops ? 'border-thread' : 'border-rule'}`}
    >
      <span>{stops ? `Can't be made: ${note.words}.` : note.words}</span>
      {note.places.length > 0 && (
        <button type="button" className="underline" onClick={show}>
          Show
        </button>
      )}
    </p>
  );
}
