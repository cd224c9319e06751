import { useStore } from 'zustand';
import type { Pixel } from '../space/projection';
import { viewStore } from '../stores/viewStore';

/** What is said beside the mark at the pointer; on the side where there is room. */
export function MarkLabel({ at, words }: { at: Pixel; words: string }) {
  const width = useStore(viewStore, (s) => s.view?.size[0] ?? 0);
  const label = 6.5 * words.length + 20;
  const left = at[0] + 18 + label > width ? at[0] - 18 - label : at[0] + 18;
  return (
    <g transform={`translate(${left} ${at[1] - 14})`}>
      <rect width={label} height={24} rx={4} fill="var(--color-ink)" />
      <text
        x={label / 2}
        y={16.5}
        textAnchor="middle"
        fontSize={13.5}
        fill="var(--color-paper)"
        data-testid="mark-words"
      >
        {words}
      </text>
    </g>
  );
}
