/** The sign of a patch: a hatch in a direction of its own, and its letter. */
import type { Pixel } from '../space/projection';
import { letterOf } from './patches';

/** The letter of a patch, legible on whatever lies under it. */
export function PatchLetter({
  at,
  place = [0, 0],
  size,
  colour,
}: {
  at: number;
  place?: Pixel;
  size: number;
  colour: string;
}) {
  return (
    <text
      x={place[0]}
      y={place[1]}
      textAnchor="middle"
      dominantBaseline="central"
      fontSize={size}
      fontWeight={700}
      fill={colour}
      stroke="var(--color-card)"
      strokeWidth={size / 4}
      paintOrder="stroke"
    >
      {letterOf(at)}
    </text>
  );
}

/** So many directions a hatch has before they come again, closer together. */
const DIRECTIONS = 6;

export function PatchSwatch({ at }: { at: number }) {
  const turn = 90 + (180 / DIRECTIONS) * (at % DIRECTIONS);
  const gap = Math.max(2.5, 5 - Math.floor(at / DIRECTIONS));
  const lines = Array.from({ length: 15 }, (_, k) => (k - 7) * gap);
  return (
    <svg
      viewBox="-11 -9 22 18"
      className="mr-2 h-[18px] w-[22px] shrink-0 rounded-[2px] border border-rule"
      aria-hidden="true"
    >
      <g transform={`rotate(${turn})`} stroke="var(--color-tide)" strokeWidth={1} opacity={0.7}>
        {lines.map((x) => (
          <line key={x} x1={x} y1={-20} x2={x} y2={20} />
        ))}
      </g>
      <PatchLetter at={at} size={12} colour="var(--color-ink)" />
    </svg>
  );
}
