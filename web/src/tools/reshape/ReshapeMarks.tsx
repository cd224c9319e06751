/** What a planned work shows above the part: the handle that pushes faces, the pairs that are welded. */
import { useRef } from 'react';
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { distance, type Place, type Project } from '../../space/projection';
import { extraOf, planStore } from '../../stores/planStore';
import { viewStore } from '../../stores/viewStore';
import { Grip } from '../../viewport/Grip';
import { slideTo } from './handles';
import { PickHandles } from './PickHandles';
import { reshapeStore } from './reshapeStore';

export function ReshapeMarks({ project }: { project: Project }) {
  return (
    <>
      <Push project={project} />
      <PickHandles />
      <SlideRails project={project} />
      <WeldPairs project={project} />
      <ShardEdges project={project} />
    </>
  );
}

/** The edges that what is picked slides along, and the handle that slides it. */
function SlideRails({ project }: { project: Project }) {
  const rails = useStore(planStore, (s) => extraOf(s.plan, 'slide')?.rails);
  const by = useStore(reshapeStore, (s) => s.slide.by);
  const eye = useStore(viewStore, (s) => s.view?.eye as Place | undefined);
  const held = useRef(false);
  if (!rails || rails.length === 0 || !eye) return null;
  const [here, left, right] = rails.reduce((one, other) =>
    distance(other[0], eye) < distance(one[0], eye) ? other : one,
  );
  const goal = by >= 0 ? left : right;
  const share = Math.min(1, Math.abs(by));
  const at = project(goal ? (here.map((x, k) => x + share * ((goal[k] ?? 0) - x)) as unknown as Place) : here);
  const slide = (event: React.PointerEvent<SVGGElement>): void => {
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (!held.current || !box) return;
    slideTo({
      rail: [here, left, right],
      pointer: [event.clientX - box.left, event.clientY - box.top],
      free: event.altKey,
    });
  };
  return (
    <g data-testid="slide-rails" data-count={rails.length}>
      {rails.flatMap(([from, ...ends]) =>
        ends.map((end) => {
          const [a, b] = [project(from), end && project(end)];
          return (
            a &&
            b && (
              <line
                key={`${from.join()} ${end?.join()}`}
                x1={a[0]}
                y1={a[1]}
                x2={b[0]}
                y2={b[1]}
                stroke="var(--color-thread)"
                strokeWidth={1.4}
                strokeDasharray="2 3"
              />
            )
          );
        }),
      )}
      {at && (
        <g
          className="pointer-events-auto cursor-move touch-none"
          data-testid="slide-handle"
          onPointerDown={(event) => {
            event.stopPropagation();
            event.currentTarget.setPointerCapture(event.pointerId);
            held.current = true;
          }}
          onPointerMove={slide}
          onPointerUp={(event) => {
            slide(event);
            held.current = false;
          }}
          onPointerCancel={() => {
            held.current = false;
          }}
        >
          <Grip at={at} />
        </g>
      )}
    </g>
  );
}

/** Which vertices become one. */
function WeldPairs({ project }: { project: Project }) {
  const pairs = useStore(planStore, (s) => extraOf(s.plan, 'weld')?.pairs);
  if (!pairs) return null;
  return (
    <g data-testid="weld-pairs" data-count={pairs.length} stroke="var(--color-thread)" fill="var(--color-card)">
      {pairs.map(([a, b]) => {
        const from = project(a as Place);
        const to = project(b as Place);
        return (
          from &&
          to && (
            <g key={`${a.join()} ${b.join()}`}>
              <line x1={from[0]} y1={from[1]} x2={to[0]} y2={to[1]} strokeWidth={1.6} strokeDasharray="3 2" />
              <circle cx={from[0]} cy={from[1]} r={3.5} strokeWidth={1.6} />
              <circle cx={to[0]} cy={to[1]} r={3.5} strokeWidth={1.6} />
            </g>
          )
        );
      })}
    </g>
  );
}

/** Where the part would break. */
function ShardEdges({ project }: { project: Project }) {
  const edges = useStore(planStore, (s) => extraOf(s.plan, 'shards')?.edges);
  const drawn = useStore(planStore, (s) => s.drawn);
  if (!edges || drawn) return null;
  const path = edges.flatMap(([a, b]) => {
    const from = project(a as Place);
    const to = project(b as Place);
    return from && to ? [`M${from[0].toFixed(1)} ${from[1].toFixed(1)}L${to[0].toFixed(1)} ${to[1].toFixed(1)}`] : [];
  });
  return (
    <path
      data-testid="shard-edges"
      d={path.join('')}
      fill="none"
      stroke="var(--color-thread)"
      strokeWidth={1.3}
      opacity={0.85}
    />
  );
}

/** The handle that pushes picked faces out or in. */
function Push({ project }: { project: Project }) {
  const { work, standing } = useStore(
    reshapeStore,
    useShallow(({ work, standing }) => ({ work, standing })),
  );
  if (work !== 'extrude' || !standing) return null;
  const from = project(standing.point as Place);
  const to = project(standing.handles.move as Place);
  if (!from || !to) return null;
  return (
    <g data-testid="push-handle" data-distance={standing.placed.offset}>
      <line x1={from[0]} y1={from[1]} x2={to[0]} y2={to[1]} stroke="var(--color-thread)" strokeWidth={2} />
      <Grip at={to} />
    </g>
  );
}
