/** Marks, stitches, ticks and labels above the part, projected from the places the service gives. */
import { useMemo } from 'react';
import { useStore } from 'zustand';
import type { Schemas } from '../api/client';
import { GUIDE_REACH_PX } from '../options';
import { partStore } from '../stores/partStore';
import { planStore } from '../stores/planStore';
import { viewStore } from '../stores/viewStore';
import { formatAngle, formatLength, formatShare } from '../ui/numbers';
import { MarkSign } from './MarkSign';
import { type Pixel, type Place, type Project, projector } from './projection';

export function Overlay() {
  const view = useStore(viewStore, (s) => s.view);
  const plan = useStore(planStore, (s) => s.plan);
  const aim = useStore(planStore, (s) => s.aim);
  const lit = useStore(planStore, (s) => s.lit);
  const flash = useStore(partStore, (s) => s.flash);
  const project = useMemo(() => (view ? projector(view) : null), [view]);
  if (!project) return null;
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full" data-testid="overlay" aria-hidden="true">
      {flash.map(([a, b], k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: flashed edges have no names and never change places
        <Segment key={k} from={project(a)} to={project(b)} className="flash" stroke="var(--color-thread)" />
      ))}
      <g data-testid="plan-lines">
        {plan?.chains.map((chain, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: runs of a plan have no names
          <Stitches key={k} chain={chain} project={project} />
        ))}
        {plan?.ticks.map((tick) => (
          <Tick key={tick.at.join()} tick={tick} project={project} />
        ))}
        {plan?.counterparts.map((point) => {
          const at = project(point.at as Place);
          return (
            at && <MarkSign key={point.at.join()} kind={point.kind} at={at} planned outline testId="counterpart" />
          );
        })}
        {plan?.lines.flatMap((line, l) =>
          line.map((point, p) => {
            const at = point.at && project(point.at as Place);
            const key = `${l}.${p}`;
            const across = point.edge ? acrossEdge(point.edge as [Place, Place], project) : null;
            return at ? (
              <MarkSign key={key} kind={point.kind} at={at} across={across} lit={lit === key} planned />
            ) : null;
          }),
        )}
      </g>
      {aim && <Aim aim={aim} project={project} />}
    </svg>
  );
}

function Stitches({
  chain,
  project,
  faint = false,
}: {
  chain: Schemas['ChainOut'];
  project: Project;
  faint?: boolean;
}) {
  const path = chain.path.map((place) => project(place as Place)).filter((pixel) => pixel !== null);
  const points = path.map((pixel) => `${pixel[0].toFixed(1)},${pixel[1].toFixed(1)}`).join(' ');
  const dashes = chain.far ? '0.1 6' : '9 4.5';
  return (
    <g
      data-side={chain.far ? 'far' : 'near'}
      data-line={chain.line}
      data-trimmed={chain.trimmed || undefined}
      opacity={chain.trimmed && !faint ? 0.45 : 1}
      fill="none"
      strokeLinecap={chain.far ? 'round' : 'butt'}
    >
      {!chain.far && <polyline points={points} stroke="var(--color-card)" strokeWidth={4.6} strokeOpacity={0.85} />}
      <polyline
        points={points}
        stroke="var(--color-thread)"
        strokeWidth={chain.far ? 3 : 2.3}
        strokeDasharray={dashes}
      />
    </g>
  );
}

/** A short bar square to the edge it will split. */
function Tick({ tick, project }: { tick: Schemas['TickOut']; project: Project }) {
  const at = project(tick.at as Place);
  const across = acrossEdge(tick.edge as [Place, Place], project);
  if (!at || !across) return null;
  const [x, y] = across;
  const reach = tick.far ? 3 : 4.5;
  return (
    <line
      data-tick={tick.far ? 'far' : 'near'}
      x1={at[0] - reach * x}
      y1={at[1] - reach * y}
      x2={at[0] + reach * x}
      y2={at[1] + reach * y}
      stroke="var(--color-thread)"
      strokeWidth={2.2}
    />
  );
}

function acrossEdge([a, b]: [Place, Place], project: Project): Pixel | null {
  const from = project(a);
  const to = project(b);
  if (!from || !to) return null;
  const size = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1;
  return [-(to[1] - from[1]) / size, (to[0] - from[0]) / size];
}

function Aim({ aim, project }: { aim: Schemas['AimOut']; project: Project }) {
  // Beside the part the mark stands where the pointer was when it was asked about.
  const aimedAt = useStore(planStore, (s) => s.aimedAt);
  const width = useStore(viewStore, (s) => s.view?.size[0] ?? 0);
  const { mark } = aim;
  const at = mark.at ? project(mark.at as Place) : aimedAt;
  if (!at) return null;
  const across = mark.edge ? acrossEdge(mark.edge as [Place, Place], project) : null;
  const words = markWords(mark, aim);
  const label = 6.5 * words.length + 20;
  const left = at[0] + 18 + label > width ? at[0] - 18 - label : at[0] + 18;
  const mirrored = aim.counterpart && project(aim.counterpart as Place);
  return (
    <g>
      {aim.guide && <GuideLine guide={aim.guide} project={project} />}
      {mirrored && <MarkSign kind={mark.kind} at={mirrored} across={null} outline testId="mark-counterpart" />}
      {aim.chains.map((chain, k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: runs of a stretch have no names
        <Stitches key={k} chain={chain} project={project} faint />
      ))}
      {aim.ticks.map((tick) => (
        <Tick key={tick.at.join()} tick={tick} project={project} />
      ))}
      {across && mark.stops.map((stop) => <Stop key={stop.join()} at={project(stop as Place)} across={across} />)}
      <MarkSign
        kind={mark.kind}
        at={at}
        across={across}
        stop={mark.stop}
        share={mark.share}
        refused={aim.refusal !== null}
        testId="mark"
        pointer={aimedAt}
      />
      <g transform={`translate(${left} ${at[1] - 14})`}>
        <rect width={label} height={24} rx={4} fill="var(--color-ink)" />
        <text
          x={label / 2}
          y={16.5}
          textAnchor="middle"
          fontSize={13.5}
          fill="var(--color-paper)"
          data-testid="mark-words"
        >
          {words}
        </text>
      </g>
    </g>
  );
}

/** The line that a lock holds the next point to, with its angle. */
function GuideLine({ guide, project }: { guide: Schemas['GuideOut']; project: Project }) {
  const at = guide.at as Place;
  const from = project(at);
  const step = guide.direction.map((d, k) => (at[k] ?? 0) + 0.001 * d) as unknown as Place;
  const next = project(step);
  if (!from || !next) return null;
  const size = Math.hypot(next[0] - from[0], next[1] - from[1]) || 1;
  const [x, y] = [(GUIDE_REACH_PX * (next[0] - from[0])) / size, (GUIDE_REACH_PX * (next[1] - from[1])) / size];
  return (
    <line
      data-testid="guide"
      data-angle={guide.angle ?? undefined}
      x1={from[0] - x}
      y1={from[1] - y}
      x2={from[0] + x}
      y2={from[1] + y}
      stroke="var(--color-tide)"
      strokeWidth={1.2}
      strokeDasharray="1 5"
      strokeLinecap="round"
    />
  );
}

function Stop({ at, across }: { at: Pixel | null; across: Pixel }) {
  if (!at) return null;
  const [x, y] = across;
  return (
    <line
      x1={at[0] - 3 * x}
      y1={at[1] - 3 * y}
      x2={at[0] + 3 * x}
      y2={at[1] + 3 * y}
      stroke="var(--color-ink)"
      strokeWidth={1}
    />
  );
}

function Segment({ from, to, ...style }: { from: Pixel | null; to: Pixel | null; className: string; stroke: string }) {
  return from && to ? <line x1={from[0]} y1={from[1]} x2={to[0]} y2={to[1]} strokeLinecap="round" {...style} /> : null;
}

/** What the readout at the pointer says. */
function markWords(mark: Schemas['MarkOut'], aim: Schemas['AimOut']): string {
  if (aim.refusal) return aim.refusal;
  const said = [mark.kind === 'edge' ? 'edge' : mark.words];
  if (mark.kind === 'edge' && mark.share !== null && mark.share !== undefined) said.push(formatShare(mark.share));
  if (mark.stop && mark.kind === 'edge') said.push('stop');
  if (aim.length) said.push(formatLength(aim.length));
  if (aim.guide?.angle != null) said.push(formatAngle(aim.guide.angle));
  return said.join(' · ');
}
