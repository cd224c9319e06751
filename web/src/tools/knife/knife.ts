/** Knife line: aim, plan, adjust, make. Every change of the plan goes through here. */
import { client, expectData, type KnifePoint, Refusal, type Schemas, type View } from '../../api/client';
import { newestOnly } from '../../api/newest';
import { ASK_AGAIN_AFTER_MS, DEFAULT_LOCK, GRAB_WITHIN_PX } from '../../options';
import { makeStep, meet, partStore } from '../../stores/partStore';
import { limitOf, pickStore } from '../../stores/pickStore';
import {
  DEFAULT_SETTINGS,
  EMPTY_PLAN,
  type Lock,
  type Mirror,
  type OpenEnds,
  type PlanLine,
  type PlanState,
  type PointAt,
  planStore,
  pointCount,
  type Stops,
} from '../../stores/planStore';
import { toast } from '../../stores/toastStore';
import { toolStore } from '../../stores/toolStore';
import { viewStore } from '../../stores/viewStore';
import { type Place, projector } from '../../viewport/projection';
import { type PointerPlace, registerTool, type Tool } from '../tool';
import {
  EMPTY_LINE,
  same,
  startOfStretch,
  withInserted,
  withMoved,
  withoutLast,
  withPoint,
  withRemoved,
} from './lines';
import { knifeStep } from './step';

type Aim = Schemas['AimOut'];

interface Question {
  view: View;
  pointer: PointerPlace;
}

/** Ask the service what the next point would be; `length` holds it at a typed length. */
async function askAim({ view, pointer }: Question, length: number | null = null): Promise<Aim | null> {
  const { lines, stops, free, half, through, lock, mirror, dragged, insertAfter } = planStore.getState();
  const part = partStore.getState().part;
  if (!part) return null;
  const settling = {
    step: stops && 'share' in stops ? stops.share : null,
    every: stops && 'length' in stops ? stops.length : null,
    free,
    half,
  };
  // A point that is moved or put in between does not go on from the last one.
  const { start, before } = dragged || insertAfter ? { start: null, before: null } : startOfStretch(lines, view);
  const { shown } = pickStore.getState();
  return expectData(
    client.POST('/api/parts/{part_id}/aim', {
      params: { path: { part_id: part.id } },
      body: {
        revision: part.revision,
        view,
        pointer,
        settling,
        lock,
        start,
        before,
        length,
        through,
        mirror,
        limit: limitOf(pickStore.getState()),
        shown,
      },
    }),
  );
}

const askForMark = newestOnly(async ({ view, pointer }: Question) => {
  try {
    const aim = await askAim({ view, pointer });
    const { pointer: now, dragged } = planStore.getState();
    // An answer for an older view, or for a pointer that has left, is thrown away.
    if (!aim || viewStore.getState().view !== view || !now || toolStore.getState().tool !== 'knife') return;
    planStore.setState({ aim, aimedAt: pointer, trouble: null });
    if (dragged && aim.mark.kind !== 'off') moveTo(dragged, aim.mark.point);
  } catch (error) {
    if (error instanceof Refusal && error.code === 'unreachable') {
      planStore.setState({ aim: null, trouble: error.words });
      wait();
    } else meet(error);
  }
});

/** Ask again after a while, until the service is back. */
function wait(): void {
  setTimeout(() => {
    if (planStore.getState().trouble) askForPlan(null);
  }, ASK_AGAIN_AFTER_MS);
}

/** Ask what is under the pointer; null when it has left the part's picture. */
export function point(pointer: PointerPlace | null): void {
  const inHand = toolStore.getState().tool === 'knife';
  planStore.setState(pointer && inHand ? { pointer } : { pointer: null, aim: null });
  const { view } = viewStore.getState();
  if (pointer && inHand && view) askForMark({ view, pointer });
}

function pointAgain(): void {
  point(planStore.getState().pointer);
}

export function suspendSettling(free: boolean): void {
  if (planStore.getState().free === free) return;
  planStore.setState({ free });
  pointAgain();
}

/** Let the next point sit on the exact half of the edge under the pointer, or no longer. */
export function toggleHalf(): void {
  planStore.setState(({ half }) => ({ half: !half }));
  pointAgain();
}

/** Choose what the mark shows as the next point. */
export function choose(): void {
  const { aim } = planStore.getState();
  if (aim && !aim.refusal) add(aim.mark.point);
}

function add(chosen: KnifePoint): void {
  const { lines, insertAfter, lock } = planStore.getState();
  const { view, name } = viewStore.getState();
  if (!view || (!insertAfter && same(lines.at(-1)?.points.at(-1), chosen) && !lines.at(-1)?.closed)) return;
  // A typed angle was meant for this one stretch.
  const spent = { retaken: [], half: false, insertAfter: null, typing: null, lock: { ...lock, value: null } };
  setLines(insertAfter ? withInserted(lines, insertAfter, chosen) : withPoint(lines, chosen, view, name), spent);
}

/** Begin another line elsewhere; the next point is its first. */
export function beginLine(): void {
  const { lines } = planStore.getState();
  if (lines.at(-1)?.points.length) setLines([...lines, EMPTY_LINE]);
}

export function takeBack(): void {
  const { lines, retaken } = planStore.getState();
  const shorter = withoutLast(lines);
  if (!shorter) return;
  const { point: taken, view } = shorter;
  setLines(shorter.lines, { retaken: taken ? [{ point: taken, view }, ...retaken] : retaken });
}

export function putAgain(): void {
  const { lines, retaken } = planStore.getState();
  const [next, ...others] = retaken;
  if (next?.view) setLines(withPoint(lines, next.point, next.view, viewStore.getState().name), { retaken: others });
}

/** Put a point of the plan at another share of its edge. */
export function setShare(at: PointAt, share: number): void {
  const old = planStore.getState().lines[at.line]?.points[at.point];
  if (old && 'edge' in old) moveTo(at, { ...old, t: share });
}

function moveTo(at: PointAt, point: KnifePoint): void {
  setLines(withMoved(planStore.getState().lines, at, point));
}

export function removePoint(at: PointAt): void {
  setLines(withRemoved(planStore.getState().lines, at));
}

/** Let the next chosen point go in after another. */
export function insertAfter(at: PointAt): void {
  const now = planStore.getState().insertAfter;
  planStore.setState({ insertAfter: same(now, at) ? null : at });
  pointAgain();
}

/** Change how the tool works; the plan follows. */
export function setSettings(
  changed: Partial<Pick<PlanState, 'stops' | 'lock' | 'mirror' | 'openEnds' | 'through'>>,
): void {
  planStore.setState(changed);
  // A copy: what was planned for these lines was planned with other settings.
  setLines([...planStore.getState().lines]);
}

export const setStops = (stops: Stops): void => setSettings({ stops });
export const setThrough = (through: boolean): void => setSettings({ through });
export const setMirror = (mirror: Mirror | null): void => setSettings({ mirror });
export const setOpenEnds = (openEnds: OpenEnds): void => setSettings({ openEnds });
export const setLock = (changed: Partial<Lock>): void =>
  setSettings({ lock: { ...planStore.getState().lock, value: null, ...changed } });
export const resetSettings = (): void => setSettings({ ...DEFAULT_SETTINGS });

const LOCKS: Lock['kind'][] = ['free', 'angle', 'x', 'y', 'z', 'square', 'along', 'grid'];

/** Take the next lock, or the one before; the grid only in a parallel view, which has one. */
export function cycleLock(by: 1 | -1): void {
  const parallel = viewStore.getState().view?.projection === 'parallel';
  const locks = parallel ? LOCKS : LOCKS.filter((kind) => kind !== 'grid');
  const at = Math.max(0, locks.indexOf(planStore.getState().lock.kind));
  setLock({
    ...DEFAULT_LOCK,
    ...planStore.getState().lock,
    value: null,
    kind: locks.at((at + by) % locks.length) ?? 'free',
  });
}

/** Begin typing a number: the angle of an angle lock, the share on an edge, else the length of the stretch. */
export function beginTyping(text: string): void {
  const { aim, lock, lines } = planStore.getState();
  const onEdge = aim?.mark.share != null && lock.kind === 'free';
  const started = startOfStretch(lines, viewStore.getState().view).start !== null;
  const kind = lock.kind === 'angle' && started ? 'angle' : onEdge || !started ? 'share' : 'length';
  planStore.setState({ typing: { kind, text } });
}

/** Let the typed number be the next thing it can be: share, angle, length. */
export function nextTyped(): void {
  const { typing } = planStore.getState();
  if (!typing) return;
  const kind = ({ share: 'angle', angle: 'length', length: 'share' } as const)[typing.kind];
  planStore.setState({ typing: { ...typing, kind } });
}

/** Take a typed value: a share and a length choose the next point, an angle holds the stretch. */
export async function takeTyped(kind: 'share' | 'angle' | 'length', value: number): Promise<void> {
  const { aim, pointer } = planStore.getState();
  const { view } = viewStore.getState();
  planStore.setState({ typing: null });
  if (kind === 'share') {
    const chosen = aim?.mark.point;
    if (chosen && 'edge' in chosen) add({ ...chosen, t: value });
  } else if (kind === 'angle') {
    setLock({ kind: 'angle', value });
  } else if (view && pointer) {
    try {
      const held = await askAim({ view, pointer }, value);
      if (held?.refusal) planStore.setState({ trouble: held.refusal });
      else if (held) add(held.mark.point);
    } catch (error) {
      meet(error);
    }
  }
}

export function discard(): void {
  planStore.setState({ ...EMPTY_PLAN });
  pointAgain();
}

function setLines(lines: PlanLine[], more: Partial<PlanState> = {}): void {
  makeWhenPlanned = false;
  planStore.setState({ lines, ...more });
  if (pointCount(lines) === 0) planStore.setState({ plan: null });
  askForPlan(null);
  if (!planStore.getState().dragged) pointAgain();
}

/** The cut was asked for before the plan was answered: it is made as soon as that is there. */
let makeWhenPlanned = false;

const askForPlan = newestOnly(async (_: null) => {
  const now = planStore.getState();
  const { part } = partStore.getState();
  const step = knifeStep(now);
  if (!part || !step) {
    planStore.setState({ plan: null, trouble: null });
    return;
  }
  try {
    const plan = await expectData(
      client.POST('/api/parts/{part_id}/plan', {
        params: { path: { part_id: part.id } },
        body: { revision: part.revision, step },
      }),
    );
    if (planStore.getState().lines !== now.lines) return;
    planStore.setState({ plan, planFor: now.lines, trouble: null });
    if (makeWhenPlanned) void make();
  } catch (error) {
    if (error instanceof Refusal && error.code === 'unreachable') {
      planStore.setState({ trouble: error.words });
      wait();
    } else {
      meet(error);
    }
  }
});

/** The part, the pick or the limit has changed: ask again what the plan would do. */
export function planAgain(): void {
  askForPlan(null);
  pointAgain();
}

/** Whether the plan as it stands would change the part. */
export function canMake(): boolean {
  const { plan, trouble } = planStore.getState();
  return plan !== null && plan.refusal === null && trouble === null && plan.new_edges > 0 && !partStore.getState().busy;
}

export async function make(): Promise<void> {
  const step = knifeStep(planStore.getState());
  makeWhenPlanned = step !== null && planStore.getState().planFor !== planStore.getState().lines;
  if (!step || makeWhenPlanned || !canMake()) return;
  try {
    await makeStep(step, () => planStore.setState({ ...EMPTY_PLAN, aim: null }));
    pointAgain();
  } catch (error) {
    const aboutThePlan = error instanceof Refusal && error.code !== 'stale' && error.code !== 'not-there';
    if (aboutThePlan) planStore.setState({ trouble: error.words });
    else meet(error);
  }
}

/** Take the edge under the pointer away, as a step of its own. */
export async function removeEdge(): Promise<void> {
  const { aim, lines } = planStore.getState();
  const chosen = aim?.mark.point;
  if (!chosen || !('edge' in chosen)) return;
  if (pointCount(lines) > 0) {
    toast({
      title: 'The edge stays',
      words: 'Make or discard the plan first: taking an edge away renumbers what it lies on.',
    });
    return;
  }
  try {
    await makeStep({ tool: 'dissolve', edges: [chosen.edge], faces: null, keep_vertices: false });
    pointAgain();
  } catch (error) {
    meet(error);
  }
}

/** The planned point that lies under a pointer, if any. */
function plannedAt([x, y]: PointerPlace): PointAt | null {
  const { plan, lines } = planStore.getState();
  const { view } = viewStore.getState();
  if (!plan || !view) return null;
  const project = projector(view);
  const drawn = lines.flatMap((line, l) => (line.points.length ? [l] : []));
  for (const [l, points] of plan.lines.entries()) {
    for (const [p, planned] of points.entries()) {
      const at = planned.at && project(planned.at as Place);
      if (at && Math.hypot(at[0] - x, at[1] - y) <= GRAB_WITHIN_PX) return { line: drawn[l] ?? l, point: p };
    }
  }
  return null;
}

const tool: Tool = {
  point,
  press(at) {
    const dragged = plannedAt(at);
    if (dragged) planStore.setState({ dragged });
    return dragged !== null;
  },
  drag(at) {
    if (planStore.getState().dragged) point(at);
  },
  release(at) {
    // The last answer moves the point once more before it is let go.
    const { dragged } = planStore.getState();
    const { view } = viewStore.getState();
    if (!dragged || !view) return;
    void askAim({ view, pointer: at })
      .then((aim) => {
        if (aim && aim.mark.kind !== 'off') moveTo(dragged, aim.mark.point);
      })
      .catch(meet)
      .finally(() => {
        planStore.setState({ dragged: null });
        pointAgain();
      });
  },
  click() {
    planStore.setState({ dragged: null });
    choose();
  },
  cancel: discard,
};
registerTool('knife', tool);
