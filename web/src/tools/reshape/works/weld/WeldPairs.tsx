/** Which vertices become one. */
import { useStore } from 'zustand';
import type { Place, Project } from '../../../../space/projection';
import { extraOf, planStore } from '../../../../stores/planStore';

export function WeldPairs({ project }: { project: Project }) {
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
