/** The line of a slice with its ends, or the frame of its plane with the handles that move and tilt it. */
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import type { Schemas } from '../../api/client';
import type { Pixel, Place, Project } from '../../space/projection';
import { same } from '../../space/same';
import { extraOf, planStore } from '../../stores/planStore';
import { viewStore } from '../../stores/viewStore';
import { formatAngle } from '../../ui/numbers';
import { AimMark } from '../../viewport/AimMark';
import { Grip } from '../../viewport/Grip';
import { sliceStore } from './sliceStore';

export function SliceMarks({ project }: { project: Project }) {
  const { aim, start, line, standing } = useStore(
    sliceStore,
    useShallow(({ aim, start, line, standing }) => ({ aim, start, line, standing })),
  );
  const view = useStore(viewStore, (s) => s.view);
  const plan = useStore(planStore, (s) => s.plan);
  const shown = line && same(line.view, view) ? line : null;
  return (
    <>
      {!shown &&
        extraOf(plan, 'slice')?.planes.map((plane) => (
          <Frame key={plane.point.join()} frame={plane.frame} project={project} />
        ))}
      {standing && <Handles standing={standing} project={project} />}
      {shown && <Line from={shown.from} to={shown.to} ends />}
      {aim && start && <Line from={start} to={aim.pixel} />}
      {aim && <Aim aim={aim} project={project} />}
    </>
  );
}

function Line({ from, to, ends = false }: { from: Pixel; to: Pixel; ends?: boolean }) {
  return (
    <g data-testid="slice-line">
      <line
        x1={from[0]}
        y1={from[1]}
        x2={to[0]}
        y2={to[1]}
        stroke="var(--color-thread)"
        strokeWidth={1.3}
        strokeDasharray="2 5"
      />
      {ends &&
        [from, to].map(([x, y], k) => (
          <g key={k === 0 ? 'from' : 'to'} data-testid={`slice-end-${k === 0 ? 'from' : 'to'}`}>
            <circle cx={x} cy={y} r={6.5} fill="var(--color-card)" stroke="var(--color-thread)" strokeWidth={2} />
            {k === 0 && <circle cx={x} cy={y} r={2.4} fill="var(--color-thread)" />}
          </g>
        ))}
    </g>
  );
}

function Frame({ frame, project }: { frame: Schemas['PlaneShown']['frame']; project: Project }) {
  const corners = frame.map((corner) => project(corner as Place));
  if (corners.some((corner) => corner === null)) return null;
  return (
    <polygon
      data-testid="plane-frame"
      points={corners.map((corner) => corner?.join()).join(' ')}
      fill="var(--color-thread)"
      fillOpacity={0.05}
      stroke="var(--color-thread)"
      strokeWidth={1.2}
      strokeDasharray="12 4 2 4"
    />
  );
}

/** A stem along the normal that moves the plane, and two rim grips that tilt it. */
function Handles({ standing, project }: { standing: Schemas['PlaneAimOut']; project: Project }) {
  const centre = project(standing.point as Place);
  const move = project(standing.handles.move as Place);
  if (!centre || !move) return null;
  return (
    <g data-testid="handles" data-offset={standing.placed.offset}>
      <line x1={centre[0]} y1={centre[1]} x2={move[0]} y2={move[1]} stroke="var(--color-thread)" strokeWidth={2} />
      <Grip at={move} testId="handle-move" />
      {(['first', 'second'] as const).map((name) => {
        const at = project(standing.handles[name] as Place);
        return at && <Grip key={name} at={at} by="turn" testId={`handle-${name}`} />;
      })}
    </g>
  );
}

function Aim({ aim, project }: { aim: Schemas['SliceAimOut']; project: Project }) {
  const aimedAt = useStore(sliceStore, (s) => s.aimedAt);
  const words = aim.refusal
    ? aim.refusal.words
    : [aim.mark.words, aim.angle !== null && formatAngle(aim.angle)].filter(Boolean).join(' · ');
  return (
    <AimMark
      mark={aim.mark}
      at={aim.pixel}
      aimedAt={aimedAt}
      chains={aim.chains}
      refused={aim.refusal !== null}
      words={words}
      project={project}
    />
  );
}
