/** A whole project out of the file it was taken out as. */
import { client, expectData, type Schemas } from '../api/client';
import { upload } from '../api/upload';
import { followed } from '../stores/jobStore';

export const isProjectFile = ({ name }: File): boolean => name.toLowerCase().endsWith('.zip');

export const importProject = (file: File): Promise<Schemas['ProjectOut']> =>
  followed(`Reading ${file.name}`, (job) =>
    expectData(client.POST('/api/project-files', { params: { query: { job } }, ...upload(file) })),
  );
