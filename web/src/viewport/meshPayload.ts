/** Meshes as the service sends them; the layout is described in `workshop/mesh_payload.py`. */

const MAGIC = 0x574d4531;

export interface MeshPayload {
  /** Places are relative to this origin. */
  origin: [number, number, number];
  places: Float32Array;
  triangles: Uint32Array;
  triangleFaces: Uint32Array;
  edges: Uint32Array;
  edgeFlags: Uint8Array;
}

/** Read one payload. Throws if the bytes are no mesh. */
export function decodeMesh(buffer: ArrayBuffer): MeshPayload {
  const [magic, vertices = 0, triangles = 0, edges = 0] = new Uint32Array(buffer, 0, 8);
  if (magic !== MAGIC) throw new Error('the bytes are no mesh');
  const origin = new Float64Array(buffer.slice(32, 56));
  let at = 56;
  const next = (count: number) => {
    const start = at;
    at += 4 * count;
    return start;
  };
  return {
    origin: [origin[0] ?? 0, origin[1] ?? 0, origin[2] ?? 0],
    places: new Float32Array(buffer, next(3 * vertices), 3 * vertices),
    triangles: new Uint32Array(buffer, next(3 * triangles), 3 * triangles),
    triangleFaces: new Uint32Array(buffer, next(triangles), triangles),
    edges: new Uint32Array(buffer, next(2 * edges), 2 * edges),
    edgeFlags: new Uint8Array(buffer, at, edges),
  };
}

export async function fetchMesh(snapshot: number): Promise<MeshPayload> {
  const answer = await fetch(`/api/meshes/${snapshot}`);
  if (!answer.ok) throw new Error(`mesh ${snapshot}: ${answer.status}`);
  return decodeMesh(await answer.arrayBuffer());
}
