/** The lines of a plan as values: adding points, taking them back, moving them. Nothing here asks or shows. */
import type { KnifePoint, View } from '../../api/client';
import type { PlanLine } from '../../stores/planStore';

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/** The last planned point of the open line, if a stretch can go on from it in this view. */
export function startOfStretch(lines: PlanLine[], view: View | null): KnifePoint | null {
  const line = lines.at(-1);
  const point = line?.points.at(-1);
  // A point beside the part means another place once the view has turned.
  if (!line || !point || ('screen' in point && !same(line.view, view))) return null;
  return point;
}

/** The lines with one more point; where the view has turned, the line goes on as one aimed from the new view. */
export function withPoint(lines: PlanLine[], chosen: KnifePoint, view: View): PlanLine[] {
  const line = lines.at(-1);
  const begun = { points: [chosen], view, goesOn: false };
  if (!line) return [begun];
  const before = lines.slice(0, -1);
  if (line.points.length === 0) return [...before, begun];
  if (same(line.view, view)) return [...before, { ...line, points: [...line.points, chosen] }];
  const from = startOfStretch(lines, view);
  if (line.points.length === 1) return [...before, from ? { ...line, points: [from, chosen], view } : begun];
  return [...lines, from ? { points: [from, chosen], view, goesOn: true } : begun];
}

/** The lines without their last point, and that point; null if there is none. */
export function withoutLast(
  lines: PlanLine[],
): { lines: PlanLine[]; point: KnifePoint | null; view: View | null } | null {
  const line = lines.at(-1);
  if (!line) return null;
  const before = lines.slice(0, -1);
  const point = line.points.at(-1) ?? null;
  const left = line.points.slice(0, -1);
  const gone = left.length === 0 || (line.goesOn && left.length === 1);
  return { lines: gone ? before : [...before, { ...line, points: left }], point, view: line.view };
}

/** The lines with one point on an edge put at another share; null if the point is not on an edge. */
export function withShare(lines: PlanLine[], lineAt: number, pointAt: number, share: number): PlanLine[] | null {
  const moved = lines.map((line) => ({ ...line, points: [...line.points] }));
  const line = moved[lineAt];
  const old = line?.points[pointAt];
  if (!line || !old || !('edge' in old)) return null;
  const point = { ...old, t: share };
  line.points[pointAt] = point;
  const next = moved[lineAt + 1];
  if (next?.goesOn && pointAt === line.points.length - 1) next.points[0] = point;
  if (line.goesOn && pointAt === 0) moved[lineAt - 1]?.points.splice(-1, 1, point);
  return moved;
}
