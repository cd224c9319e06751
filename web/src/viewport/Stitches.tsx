/** What is planned, as drawn above the part: stitches along the surface, ticks across the edges they split, stops. */
import type { Schemas } from '../api/client';
import type { Pixel, Place, Project } from '../space/projection';

export function Stitches({
  chain,
  project,
  fine = 1,
  faint = false,
}: {
  chain: Schemas['ChainOut'];
  project: Project;
  /** How fine it is sewn, where what is planned is small on the screen: 1 for as ever. */
  fine?: number;
  faint?: boolean;
}) {
  const path = chain.path.map((place) => project(place as Place)).filter((pixel) => pixel !== null);
  const points = path.map((pixel) => `${pixel[0].toFixed(1)},${pixel[1].toFixed(1)}`).join(' ');
  const dashes = (chain.far ? [0.1, 6] : [9, 4.5]).map((length) => Math.max(length * fine, 0.1)).join(' ');
  return (
    <g
      data-side={chain.far ? 'far' : 'near'}
      data-line={chain.line}
      data-trimmed={chain.trimmed || undefined}
      opacity={chain.trimmed && !faint ? 0.45 : 1}
      fill="none"
      strokeLinecap={chain.far ? 'round' : 'butt'}
    >
      {!chain.far && (
        <polyline points={points} stroke="var(--color-card)" strokeWidth={4.6 * fine} strokeOpacity={0.85} />
      )}
      <polyline
        points={points}
        stroke="var(--color-thread)"
        strokeWidth={Math.max((chain.far ? 3 : 2.3) * fine, 1)}
        strokeDasharray={dashes}
      />
    </g>
  );
}

/** Sides on the screen as long as this or longer are sewn as ever. */
const FULL_PX = 14;
const FINEST = 0.3;
/** Cosine of the turn from which on a side ends. */
const CORNER = Math.cos(Math.PI / 9);

/** How fine chains are to be sewn for stitches to be shorter than the sides they are on: by the middle one of all sides. */
export function fineness(chains: Schemas['ChainOut'][], project: Project): number {
  const sides = chains.flatMap(({ path }) => sidesOf(path.map((place) => project(place as Place))));
  const middle = sides.sort((a, b) => a - b)[sides.length >> 1] ?? FULL_PX;
  return Math.min(Math.max(middle / FULL_PX, FINEST), 1);
}

/** The lengths on the screen from corner to corner. */
function sidesOf(pixels: (Pixel | null)[]): number[] {
  const sides: number[] = [];
  let way: Pixel | null = null;
  for (const [k, to] of pixels.entries()) {
    const from = k > 0 ? pixels[k - 1] : null;
    if (!from || !to) continue;
    const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
    if (length === 0) continue;
    const next: Pixel = [(to[0] - from[0]) / length, (to[1] - from[1]) / length];
    if (way && way[0] * next[0] + way[1] * next[1] > CORNER) sides.push((sides.pop() ?? 0) + length);
    else sides.push(length);
    way = next;
  }
  return sides;
}

/** A short bar square to the edge it will split. */
export function Tick({
  tick,
  project,
  fine = 1,
}: {
  tick: Schemas['PlanOut']['ticks'][number];
  project: Project;
  fine?: number;
}) {
  const [place, edge, far] = tick;
  const at = project(place);
  const across = acrossEdge(edge, project);
  if (!at || !across) return null;
  const [x, y] = across;
  const reach = (far ? 3 : 4.5) * fine;
  return (
    <line
      data-tick={far ? 'far' : 'near'}
      x1={at[0] - reach * x}
      y1={at[1] - reach * y}
      x2={at[0] + reach * x}
      y2={at[1] + reach * y}
      stroke="var(--color-thread)"
      strokeWidth={Math.max(2.2 * fine, 1)}
    />
  );
}

/** Ticks so far apart on the screen that each can be told from the next. */
export function thinned(ticks: Schemas['PlanOut']['ticks'], project: Project): Schemas['PlanOut']['ticks'] {
  const taken = new Set<string>();
  return ticks.filter(([place, , far]) => {
    const at = project(place);
    if (!at) return false;
    const cell = `${far} ${Math.round(at[0] / APART_PX)} ${Math.round(at[1] / APART_PX)}`;
    if (taken.has(cell)) return false;
    taken.add(cell);
    return true;
  });
}

const APART_PX = 5;

/** The unit direction on the screen that is square to an edge. */
export function acrossEdge([a, b]: [Place, Place], project: Project): Pixel | null {
  const from = project(a);
  const to = project(b);
  if (!from || !to) return null;
  const size = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1;
  return [-(to[1] - from[1]) / size, (to[0] - from[0]) / size];
}

/** The stops of an edge. */
export function Stops({ stops, across, project }: { stops: Place[]; across: Pixel; project: Project }) {
  const [x, y] = across;
  const bars = stops
    .map(project)
    .filter((at) => at !== null)
    .map((at) => `M${at[0] - 3 * x} ${at[1] - 3 * y}L${at[0] + 3 * x} ${at[1] + 3 * y}`);
  return <path d={bars.join('')} stroke="var(--color-ink)" strokeWidth={1} />;
}
