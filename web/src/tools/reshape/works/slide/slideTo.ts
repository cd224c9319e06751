/** How far a vertex slides along its rail for a pointer. */
import { client, expectData, type Schemas } from '../../../../api/client';
import { newestOnly } from '../../../../api/newest';
import { newestAnswer } from '../../../../hand/aimer';
import { meetWhilePlanning } from '../../../../hand/planning';
import type { PointerPlace } from '../../../../hand/tool';
import { planStore } from '../../../../stores/planStore';
import { reshapeStore } from '../../reshapeStore';
import { WORK } from '.';

const newest = newestAnswer();

export const slideTo = newestOnly(
  async ({
    rail,
    pointer,
    free,
  }: {
    rail: Schemas['SlideExtra']['rails'][number];
    pointer: PointerPlace;
    free: boolean;
  }) => {
    const { stops } = planStore.getState();
    const found = await newest(async ({ part, view }) =>
      view
        ? expectData(
            client.POST('/api/parts/{part_id}/aim/slide', {
              params: { path: { part_id: part.id } },
              body: {
                revision: part.revision,
                rail,
                pointer,
                view,
                step: !free && stops && 'share' in stops ? stops.share : null,
              },
            }),
          )
        : null,
    ).catch(meetWhilePlanning);
    if (found && reshapeStore.getState().work === WORK.name) WORK.set({ by: found.by, measure: 'share' });
  },
);
