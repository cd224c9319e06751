/** Freehand: draw over the part with the button held, or click twice for a straight stroke; let go, and it is a plan. */
import type { KnifePoint, Schemas } from '../../api/client';
import { aimer, type Pointed } from '../../hand/aimer';
import { keeping } from '../../hand/planHistory';
import { planAgain, pointAgain, replan, setLock, setShared, waitFor } from '../../hand/planning';
import type { PointerPlace, PointerStates } from '../../hand/tool';
import { meant, stillMeant } from '../../stores/meant';
import { sharedDefaults, type TypedKind } from '../../stores/planStore';
import { viewStore } from '../../stores/viewStore';
import { askPoint } from '../settings/askPoint';
import { type DrawnStroke, FREEHAND_DEFAULTS, type FreehandState, freehandStore, NO_STROKES } from './freehandStore';
import { scoreStep, thinStep } from './step';

/** Points of a stroke nearer to each other than this tell nothing new. */
const APART_PX = 1;

type Aim = Schemas['AimOut'];

/** The place a straight stroke is held to a lock from. */
function heldFrom(): KnifePoint | null {
  const { drawing, straight } = freehandStore.getState();
  const [first] = drawing?.points ?? [];
  if (!drawing || !first || !(straight || drawing.clicked)) return null;
  return drawing.start ?? { screen: first };
}

const askAim = (pointed: Pointed): Promise<Aim> =>
  askPoint(pointed, { start: heldFrom(), through: freehandStore.getState().through });

const aiming = aimer({
  ask: askAim,
  show: (aim, { pointer }) => freehandStore.setState({ aim, aimedAt: pointer }),
  lose: () => freehandStore.setState({ aim: null }),
});

/** Where an end of a stroke settles: on a vertex, on a stop or half of an edge, or where a lock holds it. */
function settled({ mark, guide }: Aim): KnifePoint | null {
  const sits = mark.kind === 'vertex' || mark.kind === 'half' || (mark.kind === 'edge' && mark.stop);
  return sits || (guide !== null && mark.kind !== 'off') ? mark.point : null;
}

/** Where the stroke under way began settles once that is answered; counts them, for an answer that comes late. */
let begun = 0;
let startSettled: Promise<KnifePoint | null> = Promise.resolve(null);

function begin(at: PointerPlace, clicked: boolean): void {
  begun += 1;
  const turn = begun;
  freehandStore.setState({ drawing: { points: [at], start: null, clicked } });
  startSettled = aiming.at(at).then((found) => {
    const start = found && settled(found.answer);
    const { drawing } = freehandStore.getState();
    if (turn === begun && drawing) freehandStore.setState({ drawing: { ...drawing, start } });
    return start;
  });
  // What can't be settled is drawn where it was.
  startSettled.catch(() => null);
}

/** Let the stroke go: it is a plan, once it is known where its ends settle. */
function finish(points: PointerPlace[], straight: boolean): void {
  const { view } = viewStore.getState();
  const last = points.at(-1);
  if (!view || !last || points.length < 2) {
    freehandStore.setState({ drawing: null });
    return;
  }
  const now = meant();
  // Where an end can't be asked about, it lies where it was drawn: the stroke is not lost.
  const end = aiming
    .at(last)
    .then((found) => (found ? { at: settled(found.answer) } : null))
    .catch(() => ({ at: null }));
  const ends = Promise.all([startSettled.catch(() => null), end]);
  begun += 1;
  const turn = begun;
  const done = ends
    .then(([start, found]) => {
      if (!found || !now || !stillMeant(now)) return;
      const drawn = straight ? [points[0] as PointerPlace, last] : points;
      const stroke: DrawnStroke = { points: drawn, start, end: found.at, view };
      setStrokes([...freehandStore.getState().strokes, stroke], { retaken: [] });
    })
    // By now the next stroke may be under way.
    .finally(() => turn === begun && freehandStore.setState({ drawing: null }));
  waitFor(done);
}

function setStrokes(strokes: DrawnStroke[], more: Partial<FreehandState> = {}): void {
  freehandStore.setState({ strokes, ...more });
  replan();
  pointAgain();
}

/** Take the last stroke back; whether there was one. */
export function takeBack(): boolean {
  const { strokes, retaken } = freehandStore.getState();
  const last = strokes.at(-1);
  if (last) setStrokes(strokes.slice(0, -1), { retaken: [last, ...retaken] });
  return last !== undefined;
}

/** Put the stroke that was taken back last again; whether there was one. */
export function putAgain(): boolean {
  const { strokes, retaken } = freehandStore.getState();
  const [next, ...others] = retaken;
  if (next) setStrokes([...strokes, next], { retaken: others });
  return next !== undefined;
}

/** Throw the stroke under way away; whether there was one. */
export function letGo(): boolean {
  if (!freehandStore.getState().drawing) return false;
  begun += 1;
  freehandStore.setState({ drawing: null });
  pointAgain();
  return true;
}

export const removeStroke = (at: number): void => setStrokes(freehandStore.getState().strokes.toSpliced(at, 1));

/** Change what strokes do; the plan follows. */
export function setFreehand(changed: Partial<FreehandState>): void {
  freehandStore.setState(changed);
  planAgain();
}

export function resetFreehand(): void {
  freehandStore.setState({ ...FREEHAND_DEFAULTS });
  setShared(sharedDefaults());
}

const apart = (a: PointerPlace, b: PointerPlace): boolean => Math.hypot(a[0] - b[0], a[1] - b[1]) >= APART_PX;

export const POINTER: PointerStates = {
  ...keeping(freehandStore, { aim: null, aimedAt: null, drawing: null }),
  point(at) {
    aiming.hover(at);
  },
  press(at) {
    if (!freehandStore.getState().drawing?.clicked) begin(at, false);
    return true;
  },
  drag(at) {
    const { drawing, straight } = freehandStore.getState();
    const last = drawing?.points.at(-1);
    if (!drawing || !last) return;
    if (drawing.clicked) begin(drawing.points[0] ?? at, false);
    if (apart(last, at)) {
      const points = straight ? [drawing.points[0] as PointerPlace, at] : [...drawing.points, at];
      freehandStore.setState({ drawing: { ...drawing, points, clicked: false } });
    }
    aiming.hover(at);
  },
  release(at) {
    const { drawing, straight } = freehandStore.getState();
    if (!drawing) return;
    const last = drawing.points.at(-1);
    finish(last && apart(last, at) ? [...drawing.points, at] : drawing.points, straight);
  },
  click(at) {
    const { drawing } = freehandStore.getState();
    const [first] = drawing?.points ?? [];
    if (!drawing?.clicked || !first) begin(at, true);
    else if (apart(first, at)) finish([first, at], true);
  },
  clear: () => freehandStore.setState({ ...NO_STROKES, aim: null }),
  step() {
    const state = freehandStore.getState();
    return state.does === 'score' ? scoreStep(state) : thinStep(state);
  },
  typeable: () => (heldFrom() ? ['angle'] : []),
  takeTyped(kind: TypedKind, value: number) {
    if (kind === 'angle') setLock({ kind: 'angle', value });
  },
  edgeLength: () => null,
};
