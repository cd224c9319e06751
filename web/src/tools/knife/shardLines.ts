/** The stretches of the planned lines as straight lines across the view they were aimed in: what shards break along. */
import { type Place, projector } from '../../space/projection';
import { same } from '../../space/same';
import { extraOf, planStore } from '../../stores/planStore';
import { breakAlong } from '../reshape/breakAlong';
import { knifeStore } from './knifeStore';

const tenth = (pixel: number): number => Math.round(pixel * 10) / 10;

/** Plan to break the part along the planned lines, each right through. Lines aimed from another view than the first are left. */
export function breakAlongLines(): void {
  const { lines } = knifeStore.getState();
  const drawn = lines.filter((line) => line.points.length > 0);
  const points = extraOf(planStore.getState().plan, 'knife')?.lines ?? [];
  const view = drawn[0]?.view;
  if (!view) return;
  const project = projector(view);
  const found = drawn.flatMap((line, k) => {
    if (!same(line.view, view)) return [];
    const pixels = (points[k] ?? []).map(({ at }) => (at ? project(at as Place) : null));
    const ends = line.closed ? [...pixels, pixels[0] ?? null] : pixels;
    return ends.slice(1).flatMap((to, j) => {
      const from = ends[j];
      if (!from || !to) return [];
      return [{ from: from.map(tenth) as [number, number], to: to.map(tenth) as [number, number] }];
    });
  });
  if (found.length > 0) breakAlong({ way: 'lines', lines: found, view });
}
