/** Seam: click two points, and the shortest line over the surface joins them; further clicks go on from there. */

import type { KnifePoint, Schemas } from '../../api/client';
import { aimer, type Pointed } from '../../hand/aimer';
import { common } from '../../hand/common';
import { keeping } from '../../hand/planHistory';
import { planAgain, pointAgain, replan, setLock, setShared, waitFor } from '../../hand/planning';
import type { PointerPlace, PointerStates } from '../../hand/tool';
import { same } from '../../space/same';
import { type Lock, planStore, sharedDefaults, type TypedKind } from '../../stores/planStore';
import { askPoint } from '../settings/askPoint';
import { NO_SEAM, SEAM_DEFAULTS, type Seam, type SeamState, seamStore } from './seamStore';

type Aim = Schemas['AimOut'];

/** Of all locks only the grid says where a point lies by itself. */
function gridOnly(): Lock {
  const { lock } = planStore.getState();
  return lock.kind === 'grid' ? lock : { ...lock, kind: 'free', value: null };
}

/** Settle points on the grid of a parallel view, or not. */
export function toggleGrid(): void {
  setLock({ kind: planStore.getState().lock.kind === 'grid' ? 'free' : 'grid' });
}

/** A point of a seam is aimed at like one of a line, but nothing is drawn to it on the way. */
const askAim = (pointed: Pointed): Promise<Aim> => askPoint(pointed, { lock: gridOnly() });

const aiming = aimer({
  ask: askAim,
  show: (aim, { pointer }) => seamStore.setState({ aim, aimedAt: pointer }),
  lose: () => seamStore.setState({ aim: null }),
});

/** Clicks are answered one after the other. */
let choosing: Promise<void> = Promise.resolve();

function choose(at: PointerPlace): void {
  choosing = choosing
    .catch(() => undefined)
    .then(async () => {
      const chosen = await aiming.at(at);
      if (chosen && chosen.answer.mark.kind !== 'off') add(chosen.answer.mark.point);
    });
  waitFor(choosing);
}

function add(point: KnifePoint): void {
  const { points, closed } = seamStore.getState();
  if (closed || same(points.at(-1), point)) return;
  planStore.setState({ half: false, typing: null });
  // Clicked again, the first point closes the seam.
  if (points.length > 2 && same(points[0], point)) setSeam({ closed: true });
  else setPoints([...points, point], { retaken: [] });
}

function setPoints(points: KnifePoint[], more: Partial<SeamState> = {}): void {
  seamStore.setState({ points, ...more });
  replan();
  pointAgain();
}

/** Take the last point back; whether there was one. */
export function takeBack(): boolean {
  const { points, retaken, closed } = seamStore.getState();
  const last = points.at(-1);
  if (closed) setSeam({ closed: false });
  else if (last) setPoints(points.slice(0, -1), { retaken: [last, ...retaken] });
  return last !== undefined;
}

/** Put the point that was taken back last again; whether there was one. */
export function putAgain(): boolean {
  const { points, retaken } = seamStore.getState();
  const [next, ...others] = retaken;
  if (next) setPoints([...points, next], { retaken: others });
  return next !== undefined;
}

export function removePoint(at: number): void {
  const points = seamStore.getState().points.toSpliced(at, 1);
  setPoints(points, points.length < 3 ? { closed: false } : {});
}

export function setSeam(changed: Partial<SeamState>): void {
  seamStore.setState(changed);
  planAgain();
}

const WAYS: SeamState['way'][] = ['shortest', 'straight', 'plane'];

/** Take the next way from point to point. */
export function nextWay(): void {
  const at = WAYS.indexOf(seamStore.getState().way);
  setSeam({ way: WAYS[(at + 1) % WAYS.length] ?? 'shortest' });
}

export function resetSeam(): void {
  seamStore.setState({ ...SEAM_DEFAULTS });
  setShared(sharedDefaults());
}

function step(): Seam | null {
  const { points, way, closed } = seamStore.getState();
  if (points.length < 2) return null;
  return {
    tool: 'seam',
    points,
    view: null,
    way,
    closed: closed && points.length > 2 && way !== 'plane',
    ...common('mirror', 'limit', 'finish', 'woven', 'hard_above'),
  };
}

export const POINTER: PointerStates = {
  ...keeping(seamStore, { aim: null, aimedAt: null }),
  point: aiming.hover,
  press: () => false,
  drag: () => undefined,
  release: () => undefined,
  click: choose,
  clear: () => seamStore.setState({ ...NO_SEAM, aim: null }),
  step,
  typeable: () => (seamStore.getState().aim?.mark.share == null ? [] : ['share']),
  takeTyped(kind: TypedKind, value: number) {
    const point = seamStore.getState().aim?.mark.point;
    if (kind === 'share' && point && 'edge' in point) add({ ...point, t: value });
  },
  edgeLength: () => seamStore.getState().aim?.mark.length ?? null,
};
