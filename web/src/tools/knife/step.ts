/** The planned lines as a step, as the service and a steps file know it. */

import type { Schemas, View } from '../../api/client';
import { common } from '../../hand/common';
import type { KnifeState } from './knifeStore';

type KnifeStep = Schemas['KnifeParams'];

const sameView = (a: View | null, b: View | null): boolean => JSON.stringify(a) === JSON.stringify(b);

/** One view for the whole step if all lines share it, else one for each line; null if there is no point yet. */
export function knifeStep({ lines, through, openEnds }: KnifeState): KnifeStep | null {
  const drawn = lines.filter((line) => line.points.length > 0);
  if (drawn.length === 0) return null;
  const first = drawn[0]?.view ?? null;
  const shared = drawn.every((line) => sameView(line.view, first));
  return {
    tool: 'knife',
    lines: drawn.map(({ points, closed, view }) => ({ points, closed, view: shared ? null : view })),
    view: shared ? first : null,
    reach: through ? 'through' : 'near',
    open_ends: openEnds,
    ...common(),
  };
}
