/** What the next point of a line would sit on, asked of the service. */
import { client, expectData, type KnifePoint, type Schemas } from '../../api/client';
import type { Pointed } from '../../hand/aimer';
import { limitOf, pickStore } from '../../stores/pickStore';
import { type Lock, planStore, settlingOf } from '../../stores/planStore';
import { tableStore } from '../../stores/tableStore';

interface Going {
  /** The last point of the line that would go on to it, and the one before that. */
  start?: KnifePoint | null;
  before?: KnifePoint | null;
  /** A typed length that the stretch is held at. */
  length?: number | null;
  lock?: Lock;
  through?: boolean;
}

export function askPoint({ part, view, pointer }: Pointed, going: Going = {}): Promise<Schemas['AimOut']> {
  const planned = planStore.getState();
  const { others, settles } = tableStore.getState();
  const { start = null, before = null, length = null, lock = planned.lock, through = false } = going;
  return expectData(
    client.POST('/api/parts/{part_id}/aim', {
      params: { path: { part_id: part.id } },
      body: {
        revision: part.revision,
        view,
        pointer,
        settling: settlingOf(planned),
        lock,
        start,
        before,
        length,
        through,
        on_others: others && settles && !planned.free,
        mirror: planned.mirror,
        limit: limitOf(pickStore.getState()),
        shown: pickStore.getState().shown,
      },
    }),
  );
}
