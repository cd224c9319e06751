/** The outlines of a project as the service keeps them. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useStore } from 'zustand';
import { client, expectData, expectDone, type Schemas } from '../api/client';
import { tell } from '../projects/projectQueries';
import { drawerStore } from '../stores/drawerStore';
import { followed } from '../stores/jobStore';
import { partStore } from '../stores/partStore';
import { toast } from '../stores/toastStore';
import { bringInSvg } from './bringInSvg';

export type Outline = Schemas['OutlineOut'];
export type OutlineSource = Schemas['OutlineIn']['source'];
export type OutlineShape = Schemas['ByShape']['shape'];

const at = (id: number) => ({ params: { path: { outline_id: id } } });

export function useOutlines() {
  const project = useStore(partStore, (s) => s.part?.project ?? null);
  const hand = useStore(partStore, (s) => s.part?.id);
  /** Where sheets stand before the part in hand changes with its place. */
  const placement = useStore(partStore, (s) => s.part?.placement);
  const queries = useQueryClient();
  const ofProject = ['outlines', project];
  const queryKey = [...ofProject, hand, placement];
  const here = { params: { path: { project_id: project ?? 0 } } };
  const { data: outlines = [] } = useQuery({
    queryKey,
    queryFn: () =>
      expectData(
        client.GET('/api/projects/{project_id}/outlines', {
          params: { ...here.params, query: hand === undefined ? {} : { hand } },
        }),
      ),
    enabled: project !== null,
    placeholderData: (before) => before,
  });
  const readAnew = () => queries.invalidateQueries({ queryKey: ofProject });
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
    done(
      bringInSvg(project ?? 0, file, tolerance).then(({ outline, notes }) => {
        edit(outline);
        if (notes.length > 0) toast({ title: `${outline.name} was brought in`, words: notes.join(' ') });
      }),
    );
  };
  /** Take an outline from another part; it is used at once if that is wanted. */
  const takeStencil = (body: Schemas['StencilIn'], use: (made: Outline) => void): void =>
    done(
      followed('Taking the stencil', (job) =>
        expectData(
          client.POST('/api/projects/{project_id}/stencils', { params: { ...here.params, query: { job } }, body }),
        ),
      ).then(async (made) => {
        await readAnew();
        use(made);
      }),
    );
  const makePart = (id: number, body: Schemas['FlatPart'], made: (part: Schemas['PartCard']) => void): void =>
    done(
      expectData(client.POST('/api/outlines/{outline_id}/part', { ...at(id), body })).then(({ parts, notes }) => {
        const [part] = parts;
        if (!part) return;
        made(part);
        toast({ title: `${part.name} is a part now`, words: notes.join(' ') });
      }),
    );
  return { outlines, add, change, copy, remove, bringIn, takeStencil, makePart };
}

export function useOutlineShapes(): OutlineShape[] {
  const { data = [] } = useQuery({
    queryKey: ['outline-shapes'],
    queryFn: () => expectData(client.GET('/api/outline-shapes')),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return data;
}
