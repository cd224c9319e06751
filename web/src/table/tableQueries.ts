/** The table as the service keeps it, and what can be done on it: each is told where it fails, and all is read anew. */
import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { client, expectData, type Schemas } from '../api/client';
import { tellOfLetGo } from '../hand/planning';
import { tell, useProjectsChanged } from '../projects/projectQueries';
import { undoEntry } from '../projects/undoing';
import { same } from '../space/same';
import { followed } from '../stores/jobStore';
import { partStore } from '../stores/partStore';
import { NOTHING_SHOWN, type Placement, tableStore } from '../stores/tableStore';
import { toast } from '../stores/toastStore';

const at = (project: number) => ({ params: { path: { project_id: project } } });

/** The parts of a project as they stand; the picture reads them from the store. */
export function useTable(project: number): Schemas['TableOut'] | undefined {
  const { data } = useQuery({
    queryKey: ['projects', project, 'table'],
    queryFn: () => expectData(client.GET('/api/projects/{project_id}/table', at(project))),
  });
  useEffect(() => {
    if (!data) return;
    const there = new Set(data.parts.map((part) => part.id));
    tableStore.setState(({ ticked }) => ({
      parts: data.parts,
      project,
      next: data.next,
      ticked: ticked.filter((id) => there.has(id)),
    }));
    // What was done to other parts is undone from here, too; an answer about an older state of this one tells less.
    partStore.setState(({ part }) => {
      const newer = data.parts.some((one) => one.id === part?.id && one.snapshot === part.snapshot);
      return part && newer && !same(part.next, data.next) ? { part: { ...part, next: data.next } } : {};
    });
    tellOfLetGo();
  }, [data, project]);
  useEffect(
    () => () => tableStore.setState({ parts: [], project: null, next: null, ticked: [], ...NOTHING_SHOWN }),
    [],
  );
  return data;
}

/** The part in hand as it stands now, without a step: another answer about it is newer by then. */
async function readPlacement(): Promise<void> {
  const { part } = partStore.getState();
  if (!part) return;
  const now = await expectData(client.GET('/api/parts/{part_id}', { params: { path: { part_id: part.id } } }));
  const { part: still } = partStore.getState();
  if (still?.id === now.id && still.revision === now.revision) partStore.setState({ part: now });
}

export function useTableChanges(project: number) {
  const changed = useProjectsChanged();
  const settle = async <Done>(change: Promise<Done>): Promise<Done | undefined> => {
    try {
      const done = await change;
      await readPlacement().catch(() => {});
      return done;
    } catch (error) {
      tell(error);
      return undefined;
    } finally {
      changed();
    }
  };
  /** Tell what was done, with the way back. */
  const told = (title: string, done: Schemas['DoneOut'] | undefined): void => {
    if (!done) return;
    const { entry } = done;
    const undo = entry && { label: 'Undo', run: () => void undoEntry(project, entry) };
    toast({ title, words: done.notes.join(' '), ...(undo && { action: undo }) });
  };
  return {
    place: (part: number, placement: Placement) =>
      settle(
        expectData(
          client.PUT('/api/projects/{project_id}/places', { ...at(project), body: { places: [{ part, placement }] } }),
        ),
      ),
    show: (parts: number[] | null) =>
      settle(expectData(client.PUT('/api/projects/{project_id}/shown', { ...at(project), body: { parts } }))),
    spread: (parts: number[], by: number) =>
      settle(expectData(client.POST('/api/projects/{project_id}/spread', { ...at(project), body: { parts, by } }))),
    join: async (body: Schemas['JoinIn']) => {
      const done = await settle(
        followed('Joining', (job) =>
          expectData(
            client.POST('/api/projects/{project_id}/join', {
              params: { ...at(project).params, query: { job } },
              body,
            }),
          ),
        ),
      );
      told(`${body.parts.length} parts are one now`, done);
      return done?.parts[0];
    },
    copies: async (part: number, copies: Schemas['CopiesIn']['copies']) => {
      const done = await settle(
        expectData(
          client.POST('/api/parts/{part_id}/copies', { params: { path: { part_id: part } }, body: { copies } }),
        ),
      );
      told(done?.parts.length === 1 ? 'A copy was made' : `${done?.parts.length ?? 0} copies were made`, done);
    },
    bridge: async (part: Schemas['PartOut'], edges: number[], to: number, steps: number) => {
      const done = await settle(
        expectData(
          client.POST('/api/parts/{part_id}/bridge-to', {
            params: { path: { part_id: part.id } },
            body: { revision: part.revision, edges, to, steps },
          }),
        ),
      );
      told('The two parts are one now', done);
      return done?.parts[0];
    },
  };
}

/** How parts would fall. */
export async function letFall(project: number, parts: number[]): Promise<void> {
  const seen = await followed('Falling', (job) =>
    expectData(
      client.POST('/api/projects/{project_id}/fall', {
        params: { path: { project_id: project }, query: { job } },
        body: { parts, ground: null },
      }),
    ),
  );
  tableStore.setState({ falling: { parts, seen, frame: 0 }, spread: null, moving: null });
}
