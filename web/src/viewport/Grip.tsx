/** What can be taken hold of above the part: to move, to turn, or to size. */
import type { Pixel } from '../space/projection';

interface Props {
  at: Pixel;
  by?: 'move' | 'turn' | 'size';
  testId?: string;
}

export function Grip({ at: [x, y], by = 'move', testId }: Props) {
  return (
    <g style={{ transform: `translate(${x}px, ${y}px) scale(var(--mark-size))` }}>
      <Shape by={by} testId={testId} />
    </g>
  );
}

function Shape({ by, testId }: Omit<Props, 'at'>) {
  const drawn = { fill: 'var(--color-card)', stroke: 'var(--color-thread)', strokeWidth: 1.8, 'data-testid': testId };
  if (by === 'turn') return <path {...drawn} d="M-8 0a8 8 0 0 1 16 0z" />;
  if (by === 'size') return <path {...drawn} d="M-7 7h14v-14" fill="none" strokeWidth={3} />;
  return (
    <rect
      {...drawn}
      x={-6}
      y={-6}
      width={12}
      height={12}
      rx={2}
      fill="var(--color-thread)"
      stroke="var(--color-card)"
      strokeWidth={1.6}
    />
  );
}
