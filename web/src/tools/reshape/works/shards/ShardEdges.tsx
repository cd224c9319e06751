/** Where the part would break. */
import { useStore } from 'zustand';
import type { Place, Project } from '../../../../space/projection';
import { extraOf, planStore } from '../../../../stores/planStore';

export function ShardEdges({ project }: { project: Project }) {
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
