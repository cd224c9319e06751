/** What can be done to the parts of a project: each is told where it fails, and the project read anew. */
import { useQuery } from '@tanstack/react-query';
import { client, expectData, expectDone } from '../api/client';
import { partStore } from '../stores/partStore';
import { toast } from '../stores/toastStore';
import { tell, useProjectsChanged } from './projectQueries';

const at = (id: number) => ({ params: { path: { part_id: id } } });

export function usePartChanges() {
  const changed = useProjectsChanged();
  const settle = <Done>(change: Promise<Done>): Promise<Done | undefined> =>
    change.catch(tell).then((done) => {
      changed();
      return done ?? undefined;
    });
  const change = async (id: number, body: { name: string | null; hidden: boolean | null }) => {
    const now = await expectData(client.PATCH('/api/parts/{part_id}', { ...at(id), body }));
    if (partStore.getState().part?.id === id) partStore.setState({ part: now });
  };
  const restore = (id: number) => settle(expectData(client.POST('/api/parts/{part_id}/restore', at(id))));
  return {
    restore,
    rename: (id: number, name: string) => void settle(change(id, { name, hidden: null })),
    hide: (id: number, hidden: boolean) => void settle(change(id, { name: null, hidden })),
    duplicate: (id: number) => settle(expectData(client.POST('/api/parts/{part_id}/duplicate', at(id)))),
    arrange: (project: number, parts: number[]) =>
      void settle(
        expectData(
          client.PUT('/api/projects/{project_id}/order', {
            params: { path: { project_id: project } },
            body: { parts },
          }),
        ),
      ),
    /** Whether it is gone. */
    remove: async (id: number, name: string): Promise<boolean> => {
      const done = await settle(expectDone(client.DELETE('/api/parts/{part_id}', at(id))).then(() => true));
      if (done)
        toast({
          title: `${name} was deleted`,
          action: { label: 'Bring it back', run: () => void restore(id) },
        });
      return done ?? false;
    },
  };
}

/** Parts of a project that can be brought back. */
export function useDeletedParts(project: number | undefined) {
  return useQuery({
    enabled: project !== undefined,
    queryKey: ['projects', project, 'deleted-parts'],
    queryFn: () =>
      expectData(
        client.GET('/api/projects/{project_id}/deleted-parts', { params: { path: { project_id: project ?? 0 } } }),
      ),
  });
}

/** The parts in another order: one of them so many places on. */
export function moved(parts: { id: number }[], id: number, by: number): number[] {
  const order = parts.map((part) => part.id);
  const from = order.indexOf(id);
  const to = Math.min(order.length - 1, Math.max(0, from + by));
  order.splice(to, 0, ...order.splice(from, 1));
  return order;
}
