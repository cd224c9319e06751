/** The handle that pushes picked faces out or in. */
import type { Place, Project } from '../../../../space/projection';
import { Grip } from '../../../../viewport/Grip';
import { WORK } from '.';

export function PushHandle({ project }: { project: Project }) {
  const { standing } = WORK.use();
  if (!standing) return null;
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
