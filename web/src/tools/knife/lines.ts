/** The lines of a plan as values: adding points, taking them back, moving them. Nothing here asks or shows. */
import type { KnifePoint, View } from '../../api/client';
import { same } from '../../space/same';
import type { PlanLine, PointAt } from './knifeStore';

export const EMPTY_LINE: PlanLine = { points: [], view: null, viewName: '', closed: false, goesOn: false };

/** The last planned point of the open line, if a stretch can go on from it in this view, and the one before it. */
export function startOfStretch(
  lines: PlanLine[],
  view: View | null,
): { start: KnifePoint | null; before: KnifePoint | null } {
  const line = lines.at(-1);
  const point = line?.points.at(-1);
  // A point beside the part means another place once the view has turned.
  const lost = !line || line.closed || !point || ('screen' in point && !same(line.view, view));
  return lost ? { start: null, before: null } : { start: point, before: line.points.at(-2) ?? null };
}

/** The lines with one more point; where the view has turned, the line goes on as one aimed from the new view. */
export function withPoint(lines: PlanLine[], chosen: KnifePoint, view: View, viewName: string): PlanLine[] {
  const line = lines.at(-1);
  const begun: PlanLine = { ...EMPTY_LINE, points: [chosen], view, viewName };
  if (!line) return [begun];
  const before = lines.slice(0, -1);
  if (line.closed) return [...lines, begun];
  if (line.points.length === 0) return [...before, begun];
  if (same(line.view, view)) {
    const closes = !line.goesOn && line.points.length > 2 && same(line.points[0], chosen);
    return [...before, closes ? { ...line, closed: true } : { ...line, points: [...line.points, chosen] }];
  }
  const { start } = startOfStretch(lines, view);
  if (line.points.length === 1)
    return [...before, start ? { ...line, points: [start, chosen], view, viewName } : begun];
  return [...lines, start ? { ...begun, points: [start, chosen], goesOn: true } : begun];
}

/** The lines without their last point (or open again, if they were closed), and that point; null if there is none. */
export function withoutLast(
  lines: PlanLine[],
): { lines: PlanLine[]; point: KnifePoint | null; view: View | null } | null {
  const line = lines.at(-1);
  if (!line) return null;
  const before = lines.slice(0, -1);
  if (line.closed)
    return { lines: [...before, { ...line, closed: false }], point: line.points[0] ?? null, view: line.view };
  const point = line.points.at(-1) ?? null;
  const left = line.points.slice(0, -1);
  const gone = left.length === 0 || (line.goesOn && left.length === 1);
  return { lines: gone ? before : [...before, { ...line, points: left }], point, view: line.view };
}

/** The lines with one point replaced; where two lines share it, in both. */
export function withMoved(lines: PlanLine[], at: PointAt, point: KnifePoint): PlanLine[] {
  return lines.map((line, l) => {
    const points = line.points.map((old, p) => {
      const here = l === at.line && p === at.point;
      const nextBegins =
        l === at.line + 1 && p === 0 && line.goesOn && at.point === (lines[at.line]?.points.length ?? 0) - 1;
      const lastEnds =
        l === at.line - 1 && p === line.points.length - 1 && at.point === 0 && (lines[at.line]?.goesOn ?? false);
      return here || nextBegins || lastEnds ? point : old;
    });
    return { ...line, points };
  });
}

/** The lines with a point put in after another. */
export function withInserted(lines: PlanLine[], after: PointAt, point: KnifePoint): PlanLine[] {
  return lines.map((line, l) =>
    l === after.line ? { ...line, points: line.points.toSpliced(after.point + 1, 0, point) } : line,
  );
}

/** The lines without one point; a line that loses its only point goes, a closed one of two is open again. */
export function withRemoved(lines: PlanLine[], at: PointAt): PlanLine[] {
  return lines.flatMap((line, l) => {
    if (l !== at.line) return [line];
    const points = line.points.toSpliced(at.point, 1);
    return points.length === 0 ? [] : [{ ...line, points, closed: line.closed && points.length > 2 }];
  });
}
