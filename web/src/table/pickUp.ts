/** Another part of the table taken in hand by a double click on it. */
import { client, expectData } from '../api/client';
import { partStore } from '../stores/partStore';
import { tableStore } from '../stores/tableStore';
import { toolStore } from '../stores/toolStore';
import { viewStore } from '../stores/viewStore';

/** The part that is seen there, if it is another than the one in hand. Only with Pick in hand: other tools place by clicks. */
export async function partAt(pixel: readonly [number, number]): Promise<number | null> {
  const { part } = partStore.getState();
  const { view } = viewStore.getState();
  const { others, spread, falling } = tableStore.getState();
  if (!part || !view || !others || falling || toolStore.getState().tool !== 'pick') return null;
  const { part: found } = await expectData(
    client.POST('/api/projects/{project_id}/whose', {
      params: { path: { project_id: part.project } },
      body: { hand: part.id, view, pixel: [pixel[0], pixel[1]], spread },
    }),
  );
  return found === part.id ? null : found;
}

/** Let the picture stay as it is when another part is taken in hand. */
export function keepView(next: number): void {
  const { part } = partStore.getState();
  const saved = part && localStorage.getItem(`view-${part.id}`);
  if (saved && tableStore.getState().others) localStorage.setItem(`view-${next}`, saved);
}
