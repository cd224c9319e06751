/** The loop along the edge under the pointer and the ring across it, shown whole in the flow view. */
import { useStore } from 'zustand';
import type { Schemas } from '../api/client';
import type { Place, Project } from '../space/projection';
import { flowStore } from '../stores/flowStore';

export function FlowLines({ project }: { project: Project }) {
  const lines = useStore(flowStore, (s) => (s.on ? s.lines : null));
  if (!lines) return null;
  return (
    <g data-testid="flow-lines" fill="none" strokeLinejoin="round">
      {lines.ring && <Run line={lines.ring} project={project} dashes="1.5 5" width={3.2} of="ring" />}
      {lines.loop && <Run line={lines.loop} project={project} width={2.6} of="loop" />}
    </g>
  );
}

function Run({
  line,
  project,
  dashes,
  width,
  of,
}: {
  line: Schemas['FlowLineOut'];
  project: Project;
  dashes?: string;
  width: number;
  of: 'loop' | 'ring';
}) {
  const path = line.closed ? [...line.path, ...line.path.slice(0, 1)] : line.path;
  const points = path
    .map((place) => project(place as Place))
    .filter((pixel) => pixel !== null)
    .map(([x, y]) => `${x.toFixed(1)},${y.toFixed(1)}`)
    .join(' ');
  return (
    <g data-line={of} data-closed={line.closed} data-count={line.count}>
      <polyline points={points} stroke="var(--color-card)" strokeWidth={width + 2.4} strokeOpacity={0.85} />
      <polyline
        points={points}
        stroke="var(--color-tide)"
        strokeWidth={width}
        strokeDasharray={dashes}
        strokeLinecap={dashes ? 'round' : 'butt'}
      />
    </g>
  );
}
