/** Projects as the service keeps them, and what can be done to them. */

import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { client, expectData, expectDone, Refusal, type Schemas, told } from '../api/client';
import { wasStopped } from '../stores/jobStore';
import { preferencesStore } from '../stores/preferencesStore';
import { toast } from '../stores/toastStore';
import type { Unit } from '../ui/lengths';

export type Project = Schemas['ProjectOut'];

const LIST = ['projects'] as const;

export function useProjects() {
  return useQuery({ queryKey: LIST, queryFn: () => expectData(client.GET('/api/projects')) });
}

/** Projects that were deleted and can be brought back. */
export function useDeletedProjects() {
  return useQuery({ queryKey: [...LIST, 'deleted'], queryFn: () => expectData(client.GET('/api/deleted-projects')) });
}

export function useProject(id: number) {
  return useQuery({
    queryKey: [...LIST, id],
    queryFn: () => expectData(client.GET('/api/projects/{project_id}', { params: { path: { project_id: id } } })),
    retry: (count, error) => count < 2 && !(error instanceof Refusal && error.code === 'not-there'),
  });
}

export function useProjectsChanged(): () => void {
  const queries = useQueryClient();
  return () => void queries.invalidateQueries({ queryKey: LIST });
}

/** A change of the list of projects; a refusal is told, and the list read anew. */
function useChange<Input, Output>(change: (input: Input) => Promise<Output>) {
  const changed = useProjectsChanged();
  return useMutation({ mutationFn: change, onSettled: changed, onError: tell });
}

export function tell(error: unknown): void {
  // Who stopped it knows.
  if (wasStopped(error)) return;
  const { words, elements } = told(error);
  toast({ title: 'That did not work', words, elements, tone: 'warning' });
}

const at = (id: number) => ({ params: { path: { project_id: id } } });

export function useProjectChanges() {
  const create = useChange((name: string) =>
    expectData(client.POST('/api/projects', { body: { name, unit: preferencesStore.getState().unit } })),
  );
  const rename = useChange(({ id, name }: { id: number; name: string }) =>
    expectData(client.PATCH('/api/projects/{project_id}', { ...at(id), body: { name, unit: null } })),
  );
  const setUnit = useChange(({ id, unit }: { id: number; unit: Unit }) =>
    expectData(client.PATCH('/api/projects/{project_id}', { ...at(id), body: { unit, name: null } })),
  );
  const duplicate = useChange((id: number) => expectData(client.POST('/api/projects/{project_id}/duplicate', at(id))));
  const restore = useChange((id: number) => expectData(client.POST('/api/projects/{project_id}/restore', at(id))));
  const remove = useChange(async (project: Project) => {
    await expectDone(client.DELETE('/api/projects/{project_id}', at(project.id)));
    toast({
      title: `${project.name} was deleted`,
      words: 'Kept at the foot of this page for 30 days.',
      action: { label: 'Bring it back', run: () => restore.mutate(project.id) },
    });
  });
  return { create, rename, setUnit, duplicate, remove, restore };
}
