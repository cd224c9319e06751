/** What a way of picking means; the service says. */
import { client, expectData, type Schemas } from '../../api/client';
import { meant, stillMeant } from '../../stores/meant';
import { meet } from '../../stores/partStore';
import { pickStore } from '../../stores/pickStore';

/** The elements that a way of picking means; null if something else is meant by the time it is answered. */
export async function askPick(pick: Schemas['PickIn']['pick']): Promise<Schemas['PickedOut'] | null> {
  const now = meant();
  if (!now) return null;
  const { part } = now;
  try {
    const found = await expectData(
      client.POST('/api/parts/{part_id}/pick', {
        params: { path: { part_id: part.id } },
        body: { revision: part.revision, pick, shown: pickStore.getState().shown },
      }),
    );
    return stillMeant(now) ? found : null;
  } catch (error) {
    meet(error);
    return null;
  }
}
