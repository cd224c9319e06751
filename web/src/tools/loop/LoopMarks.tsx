/** The loop that a click would plan, or the one planned: its mark with the foot it counts from, and the signs where it ends. */
import { useStore } from 'zustand';
import type { Schemas } from '../../api/client';
import type { Pixel, Place, Project } from '../../space/projection';
import { extraOf, planStore } from '../../stores/planStore';
import { formatShare } from '../../ui/numbers';
import { AimMark } from '../../viewport/AimMark';
import { MarkSign } from '../../viewport/MarkSign';
import { acrossEdge } from '../../viewport/Stitches';
import { plannedOnEdge } from './loop';
import { loopStore } from './loopStore';

export function LoopMarks({ project }: { project: Project }) {
  const aim = useStore(loopStore, (s) => s.aim);
  const planned = useStore(loopStore, (s) => s.planned);
  return planned ? <Planned project={project} /> : aim && <Aim aim={aim} project={project} />;
}

function Planned({ project }: { project: Project }) {
  const plan = useStore(planStore, (s) => s.plan);
  useStore(loopStore, (s) => s.places);
  useStore(loopStore, (s) => s.measure);
  const on = plannedOnEdge();
  if (!on) return null;
  const across = acrossEdge([on.from, on.to], project);
  return (
    <>
      <Datum from={on.from} to={on.to} project={project} />
      {on.at.map((place) => {
        const at = project(place);
        return at && <MarkSign key={place.join()} kind="edge" at={at} across={across} planned testId="planned-mark" />;
      })}
      <Ends ends={extraOf(plan, 'loop')?.ends ?? []} project={project} />
    </>
  );
}

function Aim({ aim, project }: { aim: Schemas['LoopAimOut']; project: Project }) {
  const aimedAt = useStore(loopStore, (s) => s.aimedAt);
  const flipped = useStore(loopStore, (s) => s.flipped);
  const { mark } = aim;
  const edge = mark.edge as [Place, Place] | null;
  const share = mark.share == null ? null : flipped ? 1 - mark.share : mark.share;
  const words = aim.refusal
    ? aim.refusal.words
    : [
        share !== null && (mark.kind === 'half' ? 'half' : formatShare(share)),
        aim.step && (aim.ends.length ? 'open' : 'closed'),
      ]
        .filter(Boolean)
        .join(' · ');
  return (
    <g>
      {edge && <Datum from={edge[flipped ? 1 : 0]} to={edge[flipped ? 0 : 1]} project={project} />}
      <Ends ends={aim.ends} project={project} />
      <AimMark
        mark={mark}
        aimedAt={aimedAt}
        chains={aim.chains}
        ticks={aim.ticks}
        refused={aim.refusal !== null}
        words={words}
        project={project}
      />
    </g>
  );
}

/** Why a loop stops, beside the sign where it does. */
const SHORT: Record<string, string> = {
  'loop-ngon': 'stops at an n-gon',
  'loop-triangle': 'stops at a triangle',
  'loop-border': 'stops at the boundary',
  'loop-limit': 'stops at the limit',
  'loop-crowded-edge': 'stops where more than two faces meet',
  'loop-path-end': 'stops with the pick',
  'loop-one-sided': 'stops at itself',
};

/** A short foot at the end of the edge that places count from. */
function Datum({ from, to, project }: { from: Place; to: Place; project: Project }) {
  const a = project(from);
  const b = project(to);
  if (!a || !b) return null;
  const size = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
  const [x, y] = [(b[0] - a[0]) / size, (b[1] - a[1]) / size];
  const tip: Pixel = [a[0] - 2 * x, a[1] - 2 * y];
  return (
    <g stroke="var(--color-thread)" strokeWidth={2.4} data-testid="datum" data-at={from.join(' ')}>
      <line x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} strokeWidth={1.4} strokeOpacity={0.7} />
      <line x1={tip[0] - 7 * y} y1={tip[1] + 7 * x} x2={tip[0] + 7 * y} y2={tip[1] - 7 * x} />
      <line x1={tip[0] - 7 * y} y1={tip[1] + 7 * x} x2={tip[0] - 7 * y + 6 * x} y2={tip[1] + 7 * x + 6 * y} />
    </g>
  );
}

/** Where a loop stops: a bar with the reason beside it. */
function Ends({ ends, project }: { ends: Schemas['LoopEnd'][]; project: Project }) {
  return ends.map((end) => {
    const at = project(end.at as Place);
    if (!at) return null;
    const words = SHORT[end.code] ?? 'stops';
    return (
      <g key={end.code + end.at.join()} transform={`translate(${at[0]} ${at[1]})`} data-end={end.code}>
        <path d="M-6-6h12v12h-12z" fill="var(--color-card)" stroke="var(--color-ochre)" strokeWidth={1.8} />
        <path d="M-3-3l6 6M3-3l-6 6" stroke="var(--color-ochre)" strokeWidth={1.8} />
        <text
          x={11}
          y={4.5}
          fontSize={12.5}
          fill="var(--color-ochre)"
          stroke="var(--color-card)"
          strokeWidth={3.2}
          paintOrder="stroke"
        >
          {words}
        </text>
      </g>
    );
  });
}
