/** Outline: stand a shape on a sheet before the part, see where it falls, and cut it in; again and again from new places. */

import { client, expectData, type Schemas, type View } from '../../api/client';
import { newestOnly } from '../../api/newest';
import { aimer, newestAnswer, type Pointed } from '../../hand/aimer';
import { common } from '../../hand/common';
import { inReach } from '../../hand/grab';
import { keeping } from '../../hand/planHistory';
import { meetWhilePlanning, planAgain, replan, setShared, waitFor } from '../../hand/planning';
import type { PointerPlace, PointerStates } from '../../hand/tool';
import { type Place, projector } from '../../space/projection';
import type { Meant } from '../../stores/meant';
import { partStore } from '../../stores/partStore';
import { pickStore } from '../../stores/pickStore';
import { planStore, sharedDefaults } from '../../stores/planStore';
import { toast } from '../../stores/toastStore';
import { viewStore } from '../../stores/viewStore';
import {
  type Copies,
  type Facing,
  NO_SHEET,
  OUTLINE_DEFAULTS,
  type OutlineState,
  type OutlineStep,
  outlineStore,
  type PlacedSheet,
  type SheetHandle,
  type Standing,
} from './outlineStore';

const HANDLES: SheetHandle[] = ['turn', 'scale', 'place'];

/** The planned outline as a step. */
function step(): OutlineStep | null {
  const { standing, view, along, through, settle, count, collar, tie, weave, mostOff, patch, takes, depth, floor } =
    outlineStore.getState();
  if (!standing) return null;
  const [x, y, z] = standing.placed.normal ?? [0, 0, 1];
  return {
    tool: 'outline',
    curves: standing.curves,
    along: along === 'view' && view ? { view } : { direction: [-x, -y, -z] },
    reach: through ? 'through' : 'near',
    open_ends: 'trim',
    settle,
    count,
    collar,
    tie,
    patch: patch || null,
    weave: weave && { inside: weave, most_off: mostOff },
    takes: takes === 'nothing' ? null : takes === 'hole' ? { what: 'hole' } : { what: 'pocket', depth, floor },
    ...common('mirror', 'limit', 'finish', 'woven', 'hard_above'),
    // Its inside is laid anew already: it is not woven in twice.
    ...(weave && planStore.getState().finish === 'woven' && { finish: 'as cut' as const, woven: null }),
  };
}

type Ask = Partial<Pick<Schemas['SheetAimIn'], 'handle' | 'pointer' | 'face'>> & { view: View | null };

async function askForSheet(
  { part }: Meant,
  placed: PlacedSheet,
  { view, handle = null, pointer = null, face = null }: Ask,
): Promise<Standing | null> {
  const { chosen, facing, copies } = outlineStore.getState();
  if (chosen.length === 0) return null;
  return expectData(
    client.POST('/api/parts/{part_id}/aim/outline', {
      params: { path: { part_id: part.id } },
      body: {
        revision: part.revision,
        outlines: chosen,
        placed,
        // Once it stands, a sheet keeps its way unless it is placed or faced anew.
        facing: handle === 'place' || face !== null || !outlineStore.getState().standing ? facing : 'face',
        face,
        handle,
        pointer,
        view,
        free: planStore.getState().free,
        copies,
        shown: pickStore.getState().shown,
      },
    }),
  );
}

/** A sheet before it is placed: so far before the surface that it is well clear of it. */
function fresh(): PlacedSheet {
  const { part } = partStore.getState();
  const { turn, scale } = outlineStore.getState();
  const size = part ? Math.max(...part.high.map((high, k) => high - (part.low[k] ?? 0))) : 10;
  const lift = Number((0.15 * size).toPrecision(1));
  return { centre: [0, 0, 0], normal: [0, 0, 1], turn, scale, lift };
}

const aiming = aimer({
  ask: (pointed: Pointed) =>
    askForSheet(pointed, fresh(), { view: pointed.view, handle: 'place', pointer: pointed.pointer }),
  show(ghost) {
    if (!outlineStore.getState().standing) outlineStore.setState({ ghost });
  },
  lose: () => outlineStore.setState({ ghost: null }),
});

function point(pointer: PointerPlace | null): void {
  const { standing, chosen } = outlineStore.getState();
  if (!standing && chosen.length > 0) aiming.hover(pointer);
  else {
    planStore.setState({ pointer });
    outlineStore.setState({ ghost: null });
  }
}

const newest = newestAnswer();

/** Have the sheet stand anew; an older answer never undoes a newer. */
async function stand(placed: PlacedSheet, ask: Ask): Promise<void> {
  const standing = await newest((now) => askForSheet(now, placed, ask));
  if (!standing) return;
  const { view } = outlineStore.getState();
  outlineStore.setState({ standing, ghost: null, view: ask.view ?? view ?? viewStore.getState().view });
  replan();
}

const pull = newestOnly(({ handle, at }: { handle: SheetHandle; at: PointerPlace }) => {
  const { standing } = outlineStore.getState();
  const { view } = viewStore.getState();
  return standing ? stand(standing.placed, { view, handle, pointer: at }).catch(meetWhilePlanning) : Promise.resolve();
});

/** Change numbers of the sheet; before it is placed they are for the next one. */
export function setSheet(changed: Partial<PlacedSheet>): void {
  const { standing } = outlineStore.getState();
  if (changed.turn !== undefined) outlineStore.setState({ turn: changed.turn });
  if (changed.scale !== undefined) outlineStore.setState({ scale: changed.scale });
  if (!standing) return;
  // The next number may be typed before this one is answered: it is to find it there.
  const placed = { ...standing.placed, ...changed };
  outlineStore.setState({ standing: { ...standing, placed } });
  waitFor(
    stand(placed, { view: null }).catch((error) => {
      if (outlineStore.getState().standing?.placed === placed) outlineStore.setState({ standing });
      throw error;
    }),
  );
}

/** Place the sheet by numbers alone: at the part's origin, or where it lay if it was lifted off a part. */
export function standByNumbers(lay: PlacedSheet | null): void {
  if (outlineStore.getState().chosen.length === 0) return;
  if (lay) outlineStore.setState({ facing: 'face' });
  waitFor(stand(lay ?? fresh(), { view: viewStore.getState().view }));
}

/** What the sheet is to face: the face it is placed on, the view, an axis; a sheet that stands is turned at once. */
export function setFacing(facing: Facing): void {
  outlineStore.setState({ facing });
  const { standing } = outlineStore.getState();
  const { faces } = pickStore.getState();
  if (!standing) return;
  if (facing !== 'face') waitFor(faceAnew(standing, null));
  else if (faces.length === 1) waitFor(faceAnew(standing, faces[0] ?? null));
  else toast({ title: 'Nothing to face', words: 'Pick one face, or click the part where the sheet is to stand.' });
}

async function faceAnew(standing: Standing, face: number | null): Promise<void> {
  const { facing } = outlineStore.getState();
  // The face turns the sheet: it is not meant to limit the cut.
  if (face !== null) pickStore.setState({ limited: false });
  outlineStore.setState({ standing: null });
  await stand(standing.placed, { view: viewStore.getState().view, face: facing === 'face' ? face : null });
}

type OutlineSettings = Pick<
  OutlineState,
  'along' | 'through' | 'settle' | 'count' | 'collar' | 'tie' | 'weave' | 'mostOff' | 'takes' | 'depth' | 'floor'
>;

export function setOutline(wanted: Partial<OutlineSettings>): void {
  const { takes } = outlineStore.getState();
  // What does not go with taking out takes its place.
  const against =
    (takes === 'hole' && (wanted.through === false || (wanted.settle ?? 0) > 0)) ||
    (takes === 'pocket' && wanted.through === true) ||
    (wanted.weave ?? null) !== null;
  const changed = against ? { takes: 'nothing' as const, ...wanted } : wanted;
  outlineStore.setState({ ...changed, ...(changed.along ? { view: viewStore.getState().view } : {}) });
  planAgain();
}

export function setCopies(copies: Copies): void {
  outlineStore.setState({ copies });
  const { standing } = outlineStore.getState();
  if (standing) waitFor(stand(standing.placed, { view: null }));
}

/** Take an outline in hand, or lay it down; with `add`, beside the others. */
export function choose(id: number, names: Map<number, string>, add: boolean): void {
  const { chosen, standing } = outlineStore.getState();
  const had = chosen.includes(id);
  const next = add ? (had ? chosen.filter((one) => one !== id) : [...chosen, id]) : [id];
  outlineStore.setState({ chosen: next, patch: next.map((one) => names.get(one) ?? '').join(', ') });
  if (next.length === 0) outlineStore.setState({ ...NO_SHEET });
  if (standing && next.length > 0) waitFor(stand(standing.placed, { view: null }));
  else replan();
}

export function resetOutline(): void {
  outlineStore.setState({ ...OUTLINE_DEFAULTS });
  setShared(sharedDefaults());
  setSheet({ turn: OUTLINE_DEFAULTS.turn, scale: OUTLINE_DEFAULTS.scale });
}

function grabbed(pointer: PointerPlace): SheetHandle | null {
  const { standing } = outlineStore.getState();
  const { view } = viewStore.getState();
  if (!standing || !view) return null;
  const project = projector(view);
  return HANDLES.find((handle) => inReach(project(standing.handles[handle] as Place), pointer)) ?? null;
}

function letGo(at: PointerPlace): void {
  const { dragged, standing } = outlineStore.getState();
  outlineStore.setState({ dragged: null });
  if (dragged && standing)
    waitFor(stand(standing.placed, { view: viewStore.getState().view, handle: dragged, pointer: at }));
}

export const POINTER: PointerStates = {
  ...keeping(outlineStore, { ghost: null, dragged: null }),
  point,
  press(at) {
    const dragged = grabbed(at);
    outlineStore.setState({ dragged });
    return dragged !== null;
  },
  drag(at) {
    const { dragged } = outlineStore.getState();
    planStore.setState({ pointer: at });
    if (dragged) pull({ handle: dragged, at });
  },
  release: letGo,
  click(at) {
    const { standing, dragged, chosen } = outlineStore.getState();
    outlineStore.setState({ dragged: null });
    if (dragged) return;
    if (chosen.length === 0) {
      toast({ title: 'No outline is in hand', words: 'Choose one in the plan beside the part first.' });
      return;
    }
    waitFor(stand(standing?.placed ?? fresh(), { view: viewStore.getState().view, handle: 'place', pointer: at }));
  },
  clear: () => outlineStore.setState({ ...NO_SHEET }),
  step,
  typeable: () => (outlineStore.getState().standing ? ['angle'] : []),
  takeTyped(kind, value) {
    if (kind === 'angle') setSheet({ turn: value });
  },
  edgeLength: () => null,
};
