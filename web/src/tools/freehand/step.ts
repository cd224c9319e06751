/** The strokes as a step, as the service and a steps file know it. */

import { common } from '../../hand/common';
import type { FreehandState, Score, Thin } from './freehandStore';

/** How strokes are read, the same for scores and for thinning. */
function read(
  state: FreehandState,
): Pick<Score, 'strokes' | 'view' | 'smooth' | 'straight' | 'within' | 'join'> | null {
  const [first] = state.strokes;
  if (!first) return null;
  const common = JSON.stringify(first.view);
  return {
    strokes: state.strokes.map(({ points, start, end, view }) => ({
      points,
      start,
      end,
      view: JSON.stringify(view) === common ? null : view,
    })),
    view: first.view,
    smooth: state.smooth,
    straight: state.straight,
    within: state.within,
    join: 8,
  };
}

export function scoreStep(state: FreehandState): Score | null {
  const strokes = read(state);
  if (!strokes) return null;
  const { keeps, at, share, count, ratio } = state;
  return {
    tool: 'freehand',
    ...strokes,
    keeps,
    share: keeps === 'edges' && at === 'share' ? share : null,
    spread: keeps === 'edges' && at === 'spread' ? { count, ratio } : null,
    reach: state.through ? 'through' : 'near',
    open_ends: state.openEnds,
    ...common(),
  };
}

export function thinStep(state: FreehandState): Thin | null {
  // Where a stroke only begins or ends on an edge it does not cross it.
  const loose = state.strokes.map((stroke) => ({ ...stroke, start: null, end: null }));
  const strokes = read({ ...state, strokes: loose });
  if (!strokes) return null;
  const { goes, share, loops, keepVertices, straightWithin } = state;
  return {
    tool: 'thin',
    ...strokes,
    // biome-ignore lint/suspicious/noThenProperty: a step names it so
    then: goes === 'dissolve' ? 'dissolve' : 'collapse',
    share: goes === 'share' ? share : goes === 'middle' ? 0.5 : null,
    loops,
    keep_vertices: goes === 'dissolve' && keepVertices,
    straight_within: straightWithin,
    reach: state.through ? 'through' : 'near',
    ...common('mirror', 'limit'),
  };
}
