/** The drawings of a project as the service keeps them. */
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useStore } from 'zustand';
import { client, expectData, expectDone, type Schemas } from '../api/client';
import { upload } from '../api/upload';
import { tell } from '../projects/projectQueries';
import { partStore } from '../stores/partStore';
import { viewStore } from '../stores/viewStore';
import { drawingStore } from './drawingStore';
import { behindThePart } from './placing';

export type Drawing = Schemas['DrawingOut'];
type Change = Partial<Pick<Drawing, 'placement' | 'marks' | 'revision'>>;

const at = (id: number) => ({ params: { path: { drawing_id: id } } });

/** Ends when the service knows every change. */
let told: Promise<void> = Promise.resolve();

export function useDrawings() {
  const project = useStore(partStore, (s) => s.part?.project ?? null);
  const chosen = useStore(drawingStore, (s) => s.chosen);
  const queries = useQueryClient();
  const queryKey = ['drawings', project];
  const here = { params: { path: { project_id: project ?? 0 } } };
  const { data: drawings = [] } = useQuery({
    queryKey,
    queryFn: () => expectData(client.GET('/api/projects/{project_id}/drawings', here)),
    enabled: project !== null,
  });
  const readAnew = () => queries.invalidateQueries({ queryKey });

  /** Show a change at once; the service is told when it is settled. */
  const show = (id: number, change: Change): void => {
    queries.setQueryData<Drawing[]>(queryKey, (now) =>
      now?.map((one) => (one.id === id ? { ...one, ...change } : one)),
    );
  };
  const change = (id: number, changed: Change): void => {
    show(id, changed);
    const fields = { placement: changed.placement ?? null, marks: changed.marks ?? null };
    // One after the other, and not read anew in between: that would undo what was changed meanwhile.
    told = told
      .then(() => {
        const seen = queries.getQueryData<Drawing[]>(queryKey)?.find((one) => one.id === id);
        const body = { ...fields, revision: seen?.revision ?? 0 };
        return expectData(client.PATCH('/api/drawings/{drawing_id}', { ...at(id), body }));
      })
      .then(({ revision }) => show(id, { revision }))
      .catch((error) => {
        tell(error);
        void readAnew();
      });
  };
  const remove = (id: number): void => {
    void expectDone(client.DELETE('/api/drawings/{drawing_id}', at(id)))
      .catch(tell)
      .finally(readAnew);
  };
  const bringIn = (file: File): void => {
    const asked = client.POST('/api/projects/{project_id}/drawings', {
      ...here,
      ...upload(file),
    });
    void expectData(asked)
      .then(async (drawing) => {
        await readAnew();
        drawingStore.setState({ chosen: drawing.id });
        const placement = await behindThePart(drawing, viewStore.getState().name);
        if (placement) change(drawing.id, { placement });
      })
      .catch((error) => {
        tell(error);
        void readAnew();
      });
  };
  const drawing = drawings.find((one) => one.id === chosen) ?? drawings[0] ?? null;
  return { drawings, drawing, show, change, remove, bringIn };
}
