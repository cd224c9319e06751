/** The handle of an extrusion: where it stands, and how far it was pulled. The service says both. */
import { client, expectData } from '../../../../api/client';
import { newestOnly } from '../../../../api/newest';
import { newestAnswer } from '../../../../hand/aimer';
import { inReach } from '../../../../hand/grab';
import { meetWhilePlanning, replan, waitFor } from '../../../../hand/planning';
import type { PointerPlace } from '../../../../hand/tool';
import { type Place, projector } from '../../../../space/projection';
import { pickStore } from '../../../../stores/pickStore';
import { planStore } from '../../../../stores/planStore';
import { viewStore } from '../../../../stores/viewStore';
import { reshapeStore } from '../../reshapeStore';
import { WORK } from '.';

const newest = newestAnswer();

/** Where the handle stands; with a pointer, once it was pulled under it. */
export async function askForHandle(pointer: PointerPlace | null): Promise<void> {
  const [face] = pickStore.getState().faces;
  if (face === undefined) return;
  const standing = await newest(({ part, view }) =>
    expectData(
      client.POST('/api/parts/{part_id}/aim/plane', {
        params: { path: { part_id: part.id } },
        body: {
          revision: part.revision,
          placed: {
            by: 'face',
            axis: 'y',
            face,
            vertices: null,
            offset: WORK.now().distance,
            tilt: [0, 0],
            flipped: false,
            pushes: true,
          },
          handle: pointer ? 'move' : null,
          pointer,
          view: pointer ? view : null,
          free: planStore.getState().free,
        },
      }),
    ),
  );
  if (!standing || reshapeStore.getState().work !== WORK.name) return;
  WORK.note({ standing, distance: standing.placed.offset ?? 0 });
  replan();
}

export const pull = newestOnly((at: PointerPlace) => askForHandle(at).catch(meetWhilePlanning));

/** Whether the handle is under the pointer. */
export function underPointer(pointer: PointerPlace): boolean {
  const { standing } = WORK.now();
  const { view } = viewStore.getState();
  return inReach(standing && view ? projector(view)(standing.handles.move as Place) : null, pointer);
}

export const letGo = (at: PointerPlace): void => waitFor(askForHandle(at));
