/** The outlines of a project as the service keeps them. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useStore } from 'zustand';
import { client, expectData, expectDone, type Schemas } from '../api/client';
import { upload } from '../api/upload';
import { tell } from '../projects/projectQueries';
import { drawerStore } from '../stores/drawerStore';
import { partStore } from '../stores/partStore';
import { toast } from '../stores/toastStore';

export type Outline = Schemas['OutlineOut'];
export type OutlineSource = Schemas['OutlineIn']['source'];
export type OutlineShape = Schemas['ByShape']['shape'];

const at = (id: number) => ({ params: { path: { outline_id: id } } });

export function useOutlines() {
  const project = useStore(partStore, (s) => s.part?.project ?? null);
  const queries = useQueryClient();
  const queryKey = ['outlines', project];
  const here = { params: { path: { project_id: project ?? 0 } } };
  const { data: outlines = [] } = useQuery({
    queryKey,
    queryFn: () => expectData(client.GET('/api/projects/{project_id}/outlines', here)),
    enabled: project !== null,
  });
  const readAnew = () => queries.invalidateQueries({ queryKey });
  const done = (asked: Promise<unknown>): void => {
    void asked.catch(tell).finally(readAnew);
  };
  const edit = (outline: Outline): void => drawerStore.setState({ edited: outline.id });

  const add = (source: OutlineSource, name = ''): void =>
    done(
      expectData(client.POST('/api/projects/{project_id}/outlines', { ...here, body: { name, source } })).then(edit),
    );
  const change = (id: number, body: Partial<Schemas['OutlineChangeIn']>): void =>
    done(
      expectData(
        client.PATCH('/api/outlines/{outline_id}', {
          ...at(id),
          body: { name: null, drawn: null, change: null, ...body },
        }),
      ).then((changed) =>
        queries.setQueryData<Outline[]>(queryKey, (now) => now?.map((one) => (one.id === id ? changed : one))),
      ),
    );
  const copy = (id: number): void => done(expectData(client.POST('/api/outlines/{outline_id}/copy', at(id))));
  const remove = (id: number): void => done(expectDone(client.DELETE('/api/outlines/{outline_id}', at(id))));
  const bringIn = (file: File, tolerance: number): void => {
    const asked = client.POST('/api/projects/{project_id}/outlines/svg', {
      params: { ...here.params, query: { tolerance } },
      ...upload(file),
    });
    done(
      expectData(asked).then(({ outline, notes }) => {
        edit(outline);
        if (notes.length > 0) toast({ title: `${outline.name} was brought in`, words: notes.join(' ') });
      }),
    );
  };
  return { outlines, add, change, copy, remove, bringIn };
}

export function useOutlineShapes(): OutlineShape[] {
  const { data = [] } = useQuery({
    queryKey: ['outline-shapes'],
    queryFn: () => expectData(client.GET('/api/outline-shapes')),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return data;
}
