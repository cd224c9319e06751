/** What a planned work shows above the part: the handle that pushes faces, the pairs that are welded. */
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import type { Place, Project } from '../../space/projection';
import { extraOf, planStore } from '../../stores/planStore';
import { Grip } from '../../viewport/Grip';
import { reshapeStore } from './reshapeStore';

export function ReshapeMarks({ project }: { project: Project }) {
  return (
    <>
      <Push project={project} />
      <WeldPairs project={project} />
    </>
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
