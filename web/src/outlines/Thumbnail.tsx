/** A small picture of an outline. */
import type { Outline } from './outlineQueries';

export function Thumbnail({ outline, size }: { outline: Outline; size: number }) {
  const { box, path } = pictureOf(outline);
  return (
    <svg width={size} height={size} viewBox={box.join(' ')} aria-hidden className="shrink-0">
      <path
        d={path}
        fill="var(--color-rule)"
        fillRule="evenodd"
        fillOpacity={0.6}
        stroke="var(--color-ink)"
        strokeWidth={box[2] / size}
      />
    </svg>
  );
}

/** The box round an outline with a margin, and its curves as one path; y runs down on the picture. */
function pictureOf({ curves }: Outline): { box: [number, number, number, number]; path: string } {
  const all = curves.flatMap((curve) => curve.points);
  const xs = all.map(([x]) => x);
  const ys = all.map(([, y]) => -y);
  const reach = Math.max(...xs.map(Math.abs), ...ys.map(Math.abs), 1e-6) * 1.12;
  const middle = (values: number[]) => (Math.min(...values) + Math.max(...values)) / 2;
  const path = curves
    .map((curve) => `M${curve.points.map(([x, y]) => `${x} ${-y}`).join('L')}${curve.closed ? 'Z' : ''}`)
    .join('');
  return { box: [middle(xs) - reach, middle(ys) - reach, 2 * reach, 2 * reach], path };
}
