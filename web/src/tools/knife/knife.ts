/** Knife line: aim, plan, adjust, make. Every change of the plan goes through here. */

import type { KnifePoint, Schemas } from '../../api/client';
import { aimer, type Pointed } from '../../hand/aimer';
import { inReach } from '../../hand/grab';
import { keeping } from '../../hand/planHistory';
import { planAgain, pointAgain, replan, setLock, setShared, waitFor } from '../../hand/planning';
import type { PointerPlace, PointerStates } from '../../hand/tool';
import { type Place, projector } from '../../space/projection';
import { same } from '../../space/same';
import { meant, stillMeant } from '../../stores/meant';
import { makeStep, meet } from '../../stores/partStore';
import { extraOf, planStore, sharedDefaults, type TypedKind } from '../../stores/planStore';
import { toast } from '../../stores/toastStore';
import { viewStore } from '../../stores/viewStore';
import { askPoint } from '../settings/askPoint';
import {
  KNIFE_DEFAULTS,
  type KnifeState,
  knifeStore,
  NO_LINES,
  type PlanLine,
  type PointAt,
  pointCount,
} from './knifeStore';
import { EMPTY_LINE, startOfStretch, withInserted, withMoved, withoutLast, withPoint, withRemoved } from './lines';
import { knifeStep } from './step';

type Aim = Schemas['AimOut'];

/** Ask the service what the next point would be; `length` holds it at a typed length. */
async function askAim(pointed: Pointed, length: number | null = null): Promise<Aim> {
  const { lines, through, dragged, insertAfter } = knifeStore.getState();
  // A point that is moved or put in between does not go on from the last one.
  const from = dragged || insertAfter ? {} : startOfStretch(lines, pointed.view);
  return askPoint(pointed, { ...from, length, through });
}

const aiming = aimer({
  ask: askAim,
  show(aim, { pointer }) {
    const { dragged } = knifeStore.getState();
    knifeStore.setState({ aim, aimedAt: pointer });
    if (dragged && aim.mark.kind !== 'off') moveTo(dragged, aim.mark.point);
  },
  lose: () => knifeStore.setState({ aim: null }),
});

/** Clicks are answered one after the other: each stretch begins where the one before has ended. */
let choosing: Promise<void> = Promise.resolve();

/** Choose what lies at a place of the pointer as the next point. */
function choose(at: PointerPlace): void {
  choosing = choosing
    .catch(() => {})
    .then(async () => {
      const chosen = await aiming.at(at);
      if (chosen && !chosen.answer.refusal) add(chosen.answer.mark.point, chosen.pointed.view);
    });
  waitFor(choosing);
}

function add(chosen: KnifePoint, view = viewStore.getState().view): void {
  const { lines, insertAfter } = knifeStore.getState();
  const { lock } = planStore.getState();
  const { name } = viewStore.getState();
  if (!view || (!insertAfter && same(lines.at(-1)?.points.at(-1), chosen) && !lines.at(-1)?.closed)) return;
  // A typed angle was meant for this one stretch.
  planStore.setState({ half: false, typing: null, lock: { ...lock, value: null } });
  const spent = { retaken: [], insertAfter: null };
  setLines(insertAfter ? withInserted(lines, insertAfter, chosen) : withPoint(lines, chosen, view, name), spent);
}

/** Begin another line elsewhere; the next point is its first. */
export function beginLine(): void {
  const { lines } = knifeStore.getState();
  if (lines.at(-1)?.points.length) setLines([...lines, EMPTY_LINE]);
}

/** Take the last point back; whether there was one. */
export function takeBack(): boolean {
  const { lines, retaken } = knifeStore.getState();
  const shorter = withoutLast(lines);
  if (!shorter) return false;
  const { point: taken, view } = shorter;
  setLines(shorter.lines, { retaken: taken ? [{ point: taken, view }, ...retaken] : retaken });
  return true;
}

/** Put the point that was taken back last again; whether there was one. */
export function putAgain(): boolean {
  const { lines, retaken } = knifeStore.getState();
  const [next, ...others] = retaken;
  if (!next?.view) return false;
  setLines(withPoint(lines, next.point, next.view, viewStore.getState().name), { retaken: others });
  return true;
}

/** Put a point of the plan at another share of its edge. */
export function setShare(at: PointAt, share: number): void {
  const old = knifeStore.getState().lines[at.line]?.points[at.point];
  if (old && 'edge' in old) moveTo(at, { ...old, t: share });
}

function moveTo(at: PointAt, point: KnifePoint): void {
  setLines(withMoved(knifeStore.getState().lines, at, point));
}

export function removePoint(at: PointAt): void {
  setLines(withRemoved(knifeStore.getState().lines, at));
}

/** Let the next chosen point go in after another. */
export function insertAfter(at: PointAt): void {
  const now = knifeStore.getState().insertAfter;
  knifeStore.setState({ insertAfter: same(now, at) ? null : at });
  pointAgain();
}

/** Change how the tool works; the plan follows. */
export function setKnife(changed: Partial<Pick<KnifeState, 'openEnds' | 'through'>>): void {
  knifeStore.setState(changed);
  planAgain();
}

export function resetSettings(): void {
  knifeStore.setState({ ...KNIFE_DEFAULTS });
  setShared(sharedDefaults());
}

/** The angle of an angle lock, the share on an edge, else the length of the stretch; the others after it. */
function typeable(): TypedKind[] {
  const { aim, lines } = knifeStore.getState();
  if (!aim) return [];
  const { lock } = planStore.getState();
  const started = startOfStretch(lines, viewStore.getState().view).start !== null;
  if (!started) return ['share'];
  if (lock.kind === 'angle') return ['angle', 'length', 'share'];
  const onEdge = aim.mark.share != null && lock.kind === 'free';
  return onEdge ? ['share', 'angle', 'length'] : ['length', 'share', 'angle'];
}

/** Take a typed value: a share and a length choose the next point, an angle holds the stretch. */
async function takeTyped(kind: TypedKind, value: number): Promise<void> {
  const { aim } = knifeStore.getState();
  const { pointer } = planStore.getState();
  if (kind === 'share') {
    const chosen = aim?.mark.point;
    if (chosen && 'edge' in chosen) add({ ...chosen, t: value });
  } else if (kind === 'angle') {
    setLock({ kind: 'angle', value });
  } else if (pointer) {
    const now = meant();
    if (!now?.view) return;
    try {
      const held = await askAim({ ...now, view: now.view, pointer }, value);
      if (!stillMeant(now)) return;
      if (held.refusal) planStore.setState({ trouble: held.refusal });
      else add(held.mark.point, now.view);
    } catch (error) {
      meet(error);
    }
  }
}

function setLines(lines: PlanLine[], more: Partial<KnifeState> = {}): void {
  knifeStore.setState({ lines, ...more });
  replan();
  if (!knifeStore.getState().dragged) pointAgain();
}

/** Take the edge under the pointer away, as a step of its own. */
export async function removeEdge(): Promise<void> {
  const { aim, lines } = knifeStore.getState();
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
    await makeStep({ tool: 'dissolve', edges: [chosen.edge], faces: null, keep_vertices: false, straight_within: 1 });
    pointAgain();
  } catch (error) {
    meet(error);
  }
}

/** The planned point that lies under a pointer, if any. */
function plannedAt(pointer: PointerPlace): PointAt | null {
  const extra = extraOf(planStore.getState().plan, 'knife');
  const { lines } = knifeStore.getState();
  const { view } = viewStore.getState();
  if (!extra || !view) return null;
  const project = projector(view);
  const drawn = lines.flatMap((line, l) => (line.points.length ? [l] : []));
  for (const [l, points] of extra.lines.entries()) {
    for (const [p, planned] of points.entries()) {
      const at = planned.at ? project(planned.at as Place) : null;
      if (inReach(at, pointer)) return { line: drawn[l] ?? l, point: p };
    }
  }
  return null;
}

export const POINTER: PointerStates = {
  ...keeping(knifeStore, { aim: null, aimedAt: null, dragged: null, insertAfter: null }),
  point: aiming.hover,
  press(at) {
    const dragged = plannedAt(at);
    if (dragged) knifeStore.setState({ dragged });
    return dragged !== null;
  },
  drag(at) {
    if (knifeStore.getState().dragged) aiming.hover(at);
  },
  release(at) {
    // The last answer moves the point once more before it is let go.
    const { dragged } = knifeStore.getState();
    if (!dragged) return;
    const settled = aiming
      .at(at)
      .then((found) => {
        // By now another point may be held.
        const held = knifeStore.getState().dragged === dragged;
        if (found && held && found.answer.mark.kind !== 'off') moveTo(dragged, found.answer.mark.point);
      })
      .finally(() => {
        if (knifeStore.getState().dragged === dragged) knifeStore.setState({ dragged: null });
        pointAgain();
      });
    waitFor(settled);
  },
  click(at) {
    knifeStore.setState({ dragged: null });
    choose(at);
  },
  clear: () => knifeStore.setState({ ...NO_LINES, aim: null }),
  step: () => knifeStep(knifeStore.getState()),
  typeable,
  takeTyped,
  edgeLength: () => knifeStore.getState().aim?.mark.length ?? null,
};
