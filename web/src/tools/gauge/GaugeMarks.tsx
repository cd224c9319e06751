/** The line that distances run along, with a grip for every cut. */
import { useStore } from 'zustand';
import type { Place, Project } from '../../space/projection';
import { extraOf, planStore } from '../../stores/planStore';

export function GaugeMarks({ project }: { project: Project }) {
  const gauge = useStore(planStore, (s) => extraOf(s.plan, 'gauge'));
  const lit = useStore(planStore, (s) => s.lit);
  if (!gauge) return null;
  const { along, middle, low, high } = gauge;
  const level = middle.reduce((sum, x, k) => sum + x * (along[k] ?? 0), 0);
  const end = (at: number): Place => middle.map((x, k) => x + (at - level) * (along[k] ?? 0)) as unknown as Place;
  const from = project(end(low));
  const to = project(end(high));
  return (
    <g data-testid="gauge-line">
      {from && to && (
        <line
          x1={from[0]}
          y1={from[1]}
          x2={to[0]}
          y2={to[1]}
          stroke="var(--color-thread)"
          strokeWidth={1.2}
          strokeDasharray="1 4"
        />
      )}
      {gauge.cuts.map((cut) => {
        const at = project(cut.place as Place);
        const bright = lit === `cut ${cut.width}`;
        return (
          at && (
            <g key={`${cut.width} ${cut.at}`} transform={`translate(${at[0]} ${at[1]})`} data-testid="gauge-grip">
              <rect
                x={-5}
                y={-5}
                width={10}
                height={10}
                rx={2}
                fill={cut.adds_nothing ? 'var(--color-card)' : 'var(--color-thread)'}
                stroke={cut.adds_nothing ? 'var(--color-ochre)' : 'var(--color-card)'}
                strokeWidth={1.6}
                transform={bright ? 'scale(1.4)' : undefined}
              />
              <text
                x={11}
                y={4.5}
                fontSize={12.5}
                fill="var(--color-ink)"
                stroke="var(--color-card)"
                strokeWidth={3}
                paintOrder="stroke"
              >
                {Number(cut.at.toFixed(3))}
              </text>
            </g>
          )
        );
      })}
    </g>
  );
}
