/** The handles of the pick: where they stand, and what pulling one means. The service says both. */
import { client, expectData, type Schemas } from '../../../../api/client';
import { newestOnly } from '../../../../api/newest';
import { newestAnswer } from '../../../../hand/aimer';
import { meetWhilePlanning, replan, waitFor } from '../../../../hand/planning';
import type { PointerPlace } from '../../../../hand/tool';
import { pickStore } from '../../../../stores/pickStore';
import { planStore, settlingOf } from '../../../../stores/planStore';
import { preferencesStore } from '../../../../stores/preferencesStore';
import type { Three } from '../../../../ui/rows';
import { AXES } from '../../picked';
import { reshapeStore } from '../../reshapeStore';
import { WORK } from '.';
import type { Grip, Moving } from './moving';

interface Pull {
  grip: Grip;
  /** What it had moved already when it was taken. */
  from: Moving;
  pressed: PointerPlace;
  pointer: PointerPlace;
  /** On no stops; onto what lies under the pointer. */
  free: boolean;
  onto: boolean;
}

const newest = newestAnswer();

async function ask(pull: Pull | null): Promise<void> {
  const { pivot, grid } = WORK.now();
  const { stops } = planStore.getState();
  const found = await newest(({ part, view }) =>
    expectData(
      client.POST('/api/parts/{part_id}/aim/handle', {
        params: { path: { part_id: part.id } },
        body: {
          revision: part.revision,
          pick: pickOf(),
          at: pivot,
          held: pull && {
            way: pull.from.way,
            grip: pull.grip,
            by: pull.from.by,
            degrees: pull.from.grip === pull.grip ? pull.from.degrees : 0,
            factors: pull.from.factors,
          },
          pressed: pull?.pressed ?? null,
          pointer: pull?.pointer ?? null,
          view: pull ? view : null,
          settles: {
            stop: stops && 'length' in stops ? stops.length : null,
            step: preferencesStore.getState().angleStep,
            grid,
            free: pull?.free ?? false,
          },
          settling: settlingOf(planStore.getState()),
          onto: pull?.onto ?? false,
        },
      }),
    ),
  );
  if (!found || reshapeStore.getState().work !== WORK.name) return;
  WORK.note({ handles: found });
  if (pull && found.move) take(found.move, pull.grip);
  else replan();
}

function pickOf(): Schemas['PickOut'] {
  const { vertices, edges, faces } = pickStore.getState();
  return { vertices, edges, faces };
}

function take(move: NonNullable<Schemas['HandleAimOut']['move']>, grip: Grip): void {
  const { moving } = WORK.now();
  const { about: _, ...rest } = move as { about?: Three } & Partial<Moving>;
  setMoving({ ...moving, ...rest, grip });
}

export function setMoving(moving: Moving): void {
  WORK.note({ moving });
  replan();
}

/** Ask where the handles of the pick stand. */
export const standHandles = (): Promise<void> => ask(null);

const pull = newestOnly((by: Pull) => ask(by).catch(meetWhilePlanning));

export const pullTo = (by: Pull): void => pull(by);

export const letGoAt = (by: Pull): void => waitFor(ask(by));

/** Let the handles stand at the middle of what is picked now, and turn and scale about it; null for the pick's own. */
export function setPivot(pivot: Three | null): void {
  WORK.note({ pivot });
  waitFor(standHandles());
}

/** The unit direction of a handle that has one. */
export function directionOf(grip: Grip, handles: Schemas['HandleAimOut']): Three | null {
  if (grip === 'x' || grip === 'y' || grip === 'z') return AXES[grip];
  return grip === 'normal' ? handles.normal : grip === 'edge' ? handles.edge : null;
}

/** A number was typed: along the handle that was held last. */
export function typeMove(value: number): void {
  const { moving, handles } = WORK.now();
  const along = handles && directionOf(moving.grip, handles);
  if (moving.way === 'turn') setMoving({ ...moving, axis: along ?? moving.axis, degrees: value });
  else if (moving.way === 'shift' && along) setMoving({ ...moving, by: along.map((k) => k * value) as Three });
  else if (moving.way === 'scale') {
    const at = 'xyz'.indexOf(moving.grip);
    setMoving({ ...moving, factors: at < 0 ? [value, value, value] : (moving.factors.with(at, value) as Three) });
  }
}
