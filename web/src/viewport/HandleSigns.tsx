/** The handles that things are moved, turned and scaled by: a stem with a name at its end, an arc, a cross of two stems. */
import type { Pixel } from '../space/projection';

const DRAWN = { fill: 'var(--color-card)', stroke: 'var(--color-ink)', strokeWidth: 1.6 } as const;

/** A stem from the middle of what is moved; square at its end if it scales. */
export function Stem({ from, to, name, square = false }: { from: Pixel; to: Pixel; name: string; square?: boolean }) {
  return (
    <>
      <line
        x1={from[0]}
        y1={from[1]}
        x2={to[0]}
        y2={to[1]}
        stroke="var(--color-ink)"
        strokeWidth={1.4}
        strokeDasharray="5 3"
      />
      {square ? (
        <rect x={to[0] - 8} y={to[1] - 8} width={16} height={16} rx={2} {...DRAWN} />
      ) : (
        <circle cx={to[0]} cy={to[1]} r={9} {...DRAWN} />
      )}
      <text x={to[0]} y={to[1] + 4.5} textAnchor="middle" fontSize={13} fontWeight={600} fill="var(--color-ink)">
        {name}
      </text>
    </>
  );
}

/** An arc that turns about the direction it is named for. */
export function Arc({ name }: { name: string }) {
  return (
    <>
      <circle r={12} fill="var(--color-card)" fillOpacity={0.85} />
      <path d="M-8.5 5 A10 10 0 1 1 8.5 5" fill="none" stroke="var(--color-ink)" strokeWidth={1.6} />
      <path d="M8.5 5 l-5 -0.6 M8.5 5 l1.2 -5" stroke="var(--color-ink)" strokeWidth={1.6} fill="none" />
      <text y={4} textAnchor="middle" fontSize={10.5} fill="var(--color-ink)">
        {name}
      </text>
    </>
  );
}

/** A patch between two stems, for the plane of both. */
export function Patch({ corners }: { corners: Pixel[] }) {
  const points = corners.map(([x, y]) => `${x.toFixed(1)},${y.toFixed(1)}`).join(' ');
  return (
    <polygon points={points} fill="var(--color-card)" fillOpacity={0.75} stroke="var(--color-ink)" strokeWidth={1.2} />
  );
}
