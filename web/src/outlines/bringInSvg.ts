/** An SVG drawing brought in as an outline. */
import { client, expectData, type Schemas } from '../api/client';
import { upload } from '../api/upload';

/** How far a flattened curve may lie off it, in millimetres, unless it is said. */
export const USUAL_TOLERANCE_MM = 0.05;

export const bringInSvg = (project: number, file: File, tolerance: number): Promise<Schemas['OutlineImportOut']> =>
  expectData(
    client.POST('/api/projects/{project_id}/outlines/svg', {
      params: { path: { project_id: project }, query: { tolerance } },
      ...upload(file),
    }),
  );
