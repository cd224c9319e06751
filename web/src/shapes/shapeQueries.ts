/** Starter shapes as the service knows them. */
import { client, expectData, refusalOf, type Schemas, token } from '../api/client';
import { decodeMesh } from '../viewport/meshPayload';
import { pictureOfMesh } from '../viewport/picture';

export type Shape = Schemas['ShapeIn']['shape'];

export const readShapes = (): Promise<Shape[]> => expectData(client.GET('/api/shapes'));

/** A picture of a shape; throws the refusal if its sizes make none. */
export async function pictureOfShape(shape: Shape): Promise<{ picture: string; faces: number }> {
  const answer = await fetch('/api/shapes', {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', 'X-CSRFToken': token() },
    body: JSON.stringify({ shape }),
  });
  if (!answer.ok) throw refusalOf(await answer.json().catch(() => null), answer.status);
  const mesh = decodeMesh(await answer.arrayBuffer());
  return { picture: pictureOfMesh(mesh), faces: new Set(mesh.triangleFaces).size };
}

/** Add a shape to a project as a part; gives its number. */
export async function addShape(project: number, shape: Shape): Promise<number> {
  const part = await expectData(
    client.POST('/api/projects/{project_id}/shapes', {
      params: { path: { project_id: project } },
      body: { shape, name: '' },
    }),
  );
  return part.id;
}
