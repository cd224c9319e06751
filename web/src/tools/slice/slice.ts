/** Slice: a line across the view or a plane with handles; then keep, discard, part or halve. */

import { client, expectData, type Schemas, type View } from '../../api/client';
import { newestOnly } from '../../api/newest';
import { aimer, newestAnswer, type Pointed } from '../../hand/aimer';
import { common } from '../../hand/common';
import { inReach } from '../../hand/grab';
import { keeping } from '../../hand/planHistory';
import { meetWhilePlanning, planAgain, replan, setLock, setShared, waitFor } from '../../hand/planning';
import type { PointerPlace, PointerStates } from '../../hand/tool';
import { type Pixel, type Place, projector } from '../../space/projection';
import { same } from '../../space/same';
import { meant, stillMeant } from '../../stores/meant';
import { partStore } from '../../stores/partStore';
import { limitOf, pickStore } from '../../stores/pickStore';
import { planStore, settlingOf, sharedDefaults, type TypedKind } from '../../stores/planStore';
import { toast } from '../../stores/toastStore';
import { viewStore } from '../../stores/viewStore';
import {
  type Handle,
  NO_SLICE,
  type Placed,
  SLICE_DEFAULTS,
  type SliceState,
  type SliceStep,
  sliceStore,
} from './sliceStore';

type Aim = Schemas['SliceAimOut'];

const HANDLES: Handle[] = ['move', 'first', 'second'];
/** The whole part is meant: what becomes of its sides leaves no room for a limit, a mirror or a near side. */
const wholeOnly = (after: SliceStep['then']): boolean => after === 'part' || after === 'halve';

/** The planned slice as a step. */
function step(): SliceStep | null {
  const { line, standing, after, gap, asParts, cap, through, count, spacing } = sliceStore.getState();
  const view = line?.view ?? viewStore.getState().view;
  if (!(line || standing) || !view) return null;
  const whole = wholeOnly(after);
  return {
    tool: 'slice',
    plane: line || !standing ? null : { point: standing.point, normal: standing.normal },
    line: line && { from: line.from, to: line.to },
    view: line || !through ? view : null,
    repeat: count > 1 && (after === 'keep' || after === 'part') ? { count, spacing } : null,
    reach: after === 'keep' && !through ? 'near' : 'through',
    // biome-ignore lint/suspicious/noThenProperty: a step names it so
    then: after,
    gap: after === 'part' ? gap : [0, 0, 0],
    as_parts: after === 'part' && asParts,
    cap: (after === 'part' || after === 'discard') && cap,
    ...common(),
    ...(whole && { mirror: null, limit: null }),
  };
}

/** What an end of the line at a pointer would be; the other end is at `start`, if there is one. */
const askAim = ({ part, view, pointer }: Pointed, start: PointerPlace | null): Promise<Aim> =>
  expectData(
    client.POST('/api/parts/{part_id}/aim/slice', {
      params: { path: { part_id: part.id } },
      body: {
        revision: part.revision,
        view,
        pointer,
        settling: settlingOf(planStore.getState()),
        lock: planStore.getState().lock,
        start,
        limit: limitOf(pickStore.getState()),
        shown: pickStore.getState().shown,
      },
    }),
  );

/** The other end of the line that is being drawn or adjusted, as it is now. */
function otherEnd(): PointerPlace | null {
  const { dragged, line, start } = sliceStore.getState();
  if (dragged === 'from') return line?.to ?? null;
  if (dragged === 'to') return line?.from ?? null;
  return start;
}

const aiming = aimer({
  ask: (pointed: Pointed) => askAim(pointed, otherEnd()),
  show(aim, { pointer }) {
    const { dragged, line, placed } = sliceStore.getState();
    if (dragged === 'from' || dragged === 'to') moveEnd(dragged, aim.pixel);
    else if (!line && !placed) sliceStore.setState({ aim, aimedAt: pointer });
  },
  lose: () => sliceStore.setState({ aim: null }),
});

function point(pointer: PointerPlace | null): void {
  const { line, placed, dragged } = sliceStore.getState();
  // What is planned is adjusted by its ends and handles: nothing is aimed at meanwhile.
  const looking = (!line && !placed) || dragged === 'from' || dragged === 'to';
  if (looking) aiming.hover(pointer);
  else {
    planStore.setState({ pointer });
    sliceStore.setState({ aim: null });
  }
}

function moveEnd(end: 'from' | 'to', pixel: PointerPlace): void {
  const { line } = sliceStore.getState();
  if (!line) return;
  sliceStore.setState({ line: { ...line, [end]: pixel } });
  replan();
}

/** Where the end of the line comes to lie for a pointer, its other end at `start`; then go on with it. */
async function settle(
  pointer: PointerPlace,
  start: PointerPlace | null,
  go: (pixel: PointerPlace, view: View) => unknown,
): Promise<void> {
  const now = meant();
  if (!now?.view) return;
  const { pixel } = await askAim({ ...now, view: now.view, pointer }, start);
  if (stillMeant(now)) await go(pixel, now.view);
}

function draw(from: PointerPlace, to: PointerPlace, view: View): void {
  if (same(from, to)) return;
  sliceStore.setState({ ...NO_SLICE, line: { from, to, view } });
  replan();
}

/** Draw the line between two pointers: either end takes what is under it. */
function drawFrom(start: PointerPlace, end: PointerPlace): void {
  waitFor(settle(start, null, (from) => settle(end, from, (to, view) => draw(from, to, view))));
}

const newest = newestAnswer();

/** Where a placed plane stands; with a handle, once that was pulled under a pointer. An older answer never undoes a newer. */
async function askForPlane(
  placed: Placed,
  handle: Handle | null = null,
  pointer: PointerPlace | null = null,
): Promise<void> {
  const standing = await newest(({ part, view }) =>
    expectData(
      client.POST('/api/parts/{part_id}/aim/plane', {
        params: { path: { part_id: part.id } },
        body: {
          revision: part.revision,
          placed,
          handle,
          pointer,
          view: handle ? view : null,
          free: planStore.getState().free,
        },
      }),
    ),
  );
  if (!standing || !sliceStore.getState().placed) return;
  sliceStore.setState({ placed: standing.placed, standing });
  replan();
}

const pull = newestOnly(({ placed, handle, at }: { placed: Placed; handle: Handle; at: PointerPlace }) =>
  askForPlane(placed, handle, at).catch(meetWhilePlanning),
);

/** Place a plane, or place it otherwise. */
export function place(changed: Partial<Placed>): void {
  const { placed } = sliceStore.getState();
  const before = placed ?? {
    by: 'axis',
    axis: 'y',
    face: null,
    vertices: null,
    offset: 0,
    tilt: [0, 0],
    flipped: false,
    pushes: false,
  };
  const next = { ...before, ...changed } as Placed;
  sliceStore.setState({ ...(placed ? {} : NO_SLICE), placed: next });
  waitFor(askForPlane(next));
}

export type PlaneBy = 'line' | 'x' | 'y' | 'z' | 'face' | 'vertices';

/** Choose what gives the plane: a drawn line, an axis, the picked face or the three picked vertices. */
export function placeBy(by: PlaneBy): void {
  const { part } = partStore.getState();
  const { faces, vertices } = pickStore.getState();
  if (!part) return;
  const upright = { tilt: [0, 0] as [number, number], flipped: false, face: null, vertices: null };
  if (by === 'line') {
    sliceStore.setState({ ...NO_SLICE });
    planAgain();
  } else if (by === 'face' || by === 'vertices') {
    const wanted = by === 'face' ? 1 : 3;
    const picked = by === 'face' ? faces : vertices;
    if (picked.length !== wanted) {
      const words =
        by === 'face' ? 'Pick one face: the plane lies on it.' : 'Pick three vertices: the plane goes through them.';
      toast({ title: 'Nothing to place the plane by', words });
    } else if (by === 'face') {
      // The face places the plane: it is not meant to limit the cut.
      pickStore.setState({ limited: false });
      place({ ...upright, by, face: faces[0] ?? null, offset: 0 });
    } else place({ ...upright, by, vertices: vertices as [number, number, number], offset: 0 });
  } else {
    const k = { x: 0, y: 1, z: 2 }[by];
    const middle = ((part.low[k] ?? 0) + (part.high[k] ?? 0)) / 2;
    place({ ...upright, by: 'axis', axis: by, offset: Math.round(middle * 1e6) / 1e6 });
  }
}

/** Let the other side be the scrap. */
export function flipSides(): void {
  const { line, placed } = sliceStore.getState();
  if (line) {
    sliceStore.setState({ line: { ...line, from: line.to, to: line.from } });
    replan();
  } else if (placed) place({ flipped: !placed.flipped });
}

/** Change what becomes of the slice; the plan follows. */
export function setSlice(
  changed: Partial<Pick<SliceState, 'after' | 'gap' | 'asParts' | 'cap' | 'through' | 'count' | 'spacing'>>,
): void {
  sliceStore.setState(changed);
  planAgain();
}

export function resetSlice(): void {
  sliceStore.setState({ ...SLICE_DEFAULTS });
  setShared(sharedDefaults());
}

/** What can be taken hold of under a pointer: an end of the line in the view it was drawn in, or a handle of the plane. */
export function grabbed(pointer: PointerPlace): SliceState['dragged'] {
  const { line, standing } = sliceStore.getState();
  const { view } = viewStore.getState();
  if (!view) return null;
  const near = (at: Pixel | null): boolean => inReach(at, pointer);
  if (line && same(line.view, view)) {
    if (near(line.to)) return 'to';
    if (near(line.from)) return 'from';
  }
  if (standing) {
    const project = projector(view);
    return HANDLES.find((handle) => near(project(standing.handles[handle] as Place))) ?? null;
  }
  return null;
}

const isHandle = (dragged: SliceState['dragged']): dragged is Handle => HANDLES.includes(dragged as Handle);

/** Counts what was taken hold of: what is answered to an earlier hold changes nothing. */
let holds = 0;

/** The line was begun by a click before the one that is being made. */
let begun = false;

export const POINTER: PointerStates = {
  ...keeping(sliceStore, { aim: null, aimedAt: null, dragged: null, start: null }),
  point,
  press(at) {
    holds += 1;
    const dragged = grabbed(at);
    const { placed, start, aim, line } = sliceStore.getState();
    begun = start !== null && line === null;
    if (dragged) sliceStore.setState({ dragged });
    else if (!placed) sliceStore.setState({ dragged: 'fresh', start: start ?? aim?.pixel ?? at });
    return dragged !== null || !placed;
  },
  drag(at) {
    const { dragged, line, placed } = sliceStore.getState();
    planStore.setState({ pointer: at });
    if (isHandle(dragged) && placed) pull({ placed, handle: dragged, at });
    else if (dragged === 'fresh' && line) {
      // A fresh line takes the place of the one that was planned.
      sliceStore.setState({ line: null });
      replan();
      point(at);
    } else point(at);
  },
  release(at) {
    const { dragged, start, line, placed } = sliceStore.getState();
    if (isHandle(dragged) && placed) {
      waitFor(askForPlane(placed, dragged, at));
      sliceStore.setState({ dragged: null });
    } else if (dragged === 'from' || dragged === 'to') {
      const hold = holds;
      const settled = settle(at, dragged === 'from' ? (line?.to ?? null) : (line?.from ?? null), (pixel) => {
        if (hold !== holds) return;
        moveEnd(dragged, pixel);
        sliceStore.setState({ dragged: null });
      });
      waitFor(settled);
    } else if (start) drawFrom(start, at);
  },
  click(at) {
    const { dragged, start, line, placed } = sliceStore.getState();
    sliceStore.setState({ dragged: null });
    if (placed || (dragged && dragged !== 'fresh')) return;
    if (line) sliceStore.setState({ start: null });
    else if (start && begun && !same(start, at)) drawFrom(start, at);
  },
  clear: () => sliceStore.setState({ ...NO_SLICE }),
  step,
  typeable() {
    const { placed, start } = sliceStore.getState();
    return placed ? ['length'] : start ? ['angle'] : [];
  },
  signed: () => true,
  takeTyped(kind: TypedKind, value: number) {
    if (kind === 'length') place({ offset: value });
    else if (kind === 'angle') setLock({ kind: 'angle', value });
  },
  edgeLength: () => null,
};
