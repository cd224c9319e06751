/** The places that a lesson names, each between four corners with its number. */
import { useMemo } from 'react';
import { useStore } from 'zustand';
import { projector } from '../space/projection';
import { viewStore } from '../stores/viewStore';
import { aimStore } from './aimStore';

/** Four corners, open at the sides. */
const CORNERS = 'M-12-6V-12H-6M6-12H12V-6M12 6V12H6M-6 12H-12V6';

export function LessonAims() {
  const aims = useStore(aimStore, (s) => s.aims);
  const view = useStore(viewStore, (s) => s.view);
  const project = useMemo(() => (view ? projector(view) : null), [view]);
  if (!project || aims.length === 0) return null;
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full" data-testid="lesson-aims" aria-hidden="true">
      {aims.map((place, k) => {
        const at = project(place);
        return (
          at && (
            <g key={place.join()} transform={`translate(${at[0]} ${at[1]})`}>
              <path d={CORNERS} fill="none" stroke="var(--color-card)" strokeWidth={5} />
              <path d={CORNERS} fill="none" stroke="var(--color-ink)" strokeWidth={2} />
              <text
                x={17}
                y={-9}
                fontSize={15}
                fontWeight={700}
                fill="var(--color-ink)"
                stroke="var(--color-card)"
                strokeWidth={4}
                paintOrder="stroke"
              >
                {k + 1}
              </text>
            </g>
          )
        );
      })}
    </svg>
  );
}
