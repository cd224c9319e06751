import { client, expectData, type Schemas } from '../api/client';
import { upload } from '../api/upload';
import { followed } from '../stores/jobStore';
import type { Unit } from '../ui/lengths';

/** What can be read as a part; the service decides by the same endings. */
export const PART_FILES = '.obj,.ply,.stl,.glb';

/** Whether a file may hold several objects. */
export const mayHoldObjects = ({ name }: File): boolean => /\.(obj|glb)$/i.test(name);

/** Bring the objects of a file into a project, each as a part of its own. */
export const importObjects = (project: number, file: File, unit: Unit): Promise<Schemas['DoneOut']> =>
  followed(`Reading ${file.name}`, (job) =>
    expectData(
      client.POST('/api/projects/{project_id}/objects', {
        params: { path: { project_id: project }, query: { unit, job } },
        ...upload(file),
      }),
    ),
  );

/** Bring a file into a project as a new part; its lengths are in a unit. */
export async function importFile(project: number, file: File, unit: Unit): Promise<Schemas['ImportedOut']> {
  return followed(`Reading ${file.name}`, (job) =>
    expectData(
      client.POST('/api/projects/{project_id}/parts', {
        params: { path: { project_id: project }, query: { unit, job } },
        ...upload(file),
      }),
    ),
  );
}
