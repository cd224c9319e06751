/** Meshes as the service sends them, whole or as what changed; the layout is described in `workshop/mesh_payload.py`. */

import { client, refusalOf, type Schemas, type Step, unreachable } from '../api/client';
import { answered } from '../api/connection';

const MAGIC = 0x574d4531;
const MAGIC_OF_DIFFERENCE = 0x574d4433;
/** So many meshes are kept, so that undo and redo need not fetch them again. */
const KEPT = 6;

export interface MeshPayload {
  /** Places are relative to this origin. */
  origin: [number, number, number];
  places: Float32Array;
  triangles: Uint32Array;
  triangleFaces: Uint32Array;
  edges: Uint32Array;
  edgeFlags: Uint8Array;
}

/** Read one whole payload. Throws if the bytes are no mesh. */
export function decodeMesh(buffer: ArrayBuffer): MeshPayload {
  const [magic, vertices = 0, triangles = 0, edges = 0] = new Uint32Array(buffer, 0, 8);
  if (magic !== MAGIC) throw new Error('the bytes are no mesh');
  const origin = new Float64Array(buffer.slice(32, 56));
  const next = blocks(56);
  return {
    origin: [origin[0] ?? 0, origin[1] ?? 0, origin[2] ?? 0],
    places: new Float32Array(buffer, next(3 * vertices), 3 * vertices),
    triangles: new Uint32Array(buffer, next(3 * triangles), 3 * triangles),
    triangleFaces: new Uint32Array(buffer, next(triangles), triangles),
    edges: new Uint32Array(buffer, next(2 * edges), 2 * edges),
    edgeFlags: new Uint8Array(buffer, next(0), edges),
  };
}

/** The mesh that a payload of changes makes of the one before it. */
function withChanges(before: MeshPayload, buffer: ArrayBuffer): MeshPayload {
  const counts = new Uint32Array(buffer, 0, 8);
  const [, oldVertices = 0, vertices = 0, faces = 0, triangles = 0, changed = 0, edges = 0, moves = 0] = counts;
  if (before.places.length !== 3 * oldVertices) throw new Error('the changes belong to another mesh');
  const { origin } = before;
  const fresh = new Float64Array(buffer, 32, 3 * vertices);
  const movedPlaces = new Float64Array(buffer, 32 + 24 * vertices, 3 * moves);
  const next = blocks(32 + 24 * (vertices + moves));
  const moved = new Uint32Array(buffer, next(moves), moves);
  const replaced = new Set(new Uint32Array(buffer, next(faces), faces));
  const corners = new Uint32Array(buffer, next(3 * triangles), 3 * triangles);
  const owners = new Uint32Array(buffer, next(triangles), triangles);
  const numbers = new Uint32Array(buffer, next(changed), changed);
  const ends = new Uint32Array(buffer, next(2 * (changed + edges)), 2 * (changed + edges));
  const flags = new Uint8Array(buffer, next(0), changed + edges);

  const places = joined(
    Float32Array,
    before.places,
    fresh.map((x, k) => x - (origin[k % 3] ?? 0)),
  );
  moved.forEach((vertex, k) => {
    for (let c = 0; c < 3; c++) places[3 * vertex + c] = (movedPlaces[3 * k + c] ?? 0) - (origin[c] ?? 0);
  });
  const kept = before.triangleFaces.filter((face) => !replaced.has(face));
  const triangleFaces = joined(Uint32Array, kept, owners);
  const trianglesNow = new Uint32Array(3 * triangleFaces.length);
  let at = 0;
  before.triangleFaces.forEach((face, t) => {
    if (replaced.has(face)) return;
    trianglesNow.set(before.triangles.subarray(3 * t, 3 * t + 3), at);
    at += 3;
  });
  trianglesNow.set(corners, at);
  const edgesNow = joined(Uint32Array, before.edges, ends.subarray(2 * changed));
  const edgeFlags = joined(Uint8Array, before.edgeFlags, flags.subarray(changed));
  numbers.forEach((edge, k) => {
    edgesNow.set(ends.subarray(2 * k, 2 * k + 2), 2 * edge);
    edgeFlags[edge] = flags[k] ?? 0;
  });
  return { origin, places, triangles: trianglesNow, triangleFaces, edges: edgesNow, edgeFlags };
}

const meshes = new Map<number, MeshPayload>();
/** The snapshot that was fetched last: most likely the one that the next was cut from. */
let last: number | null = null;

export async function fetchMesh(snapshot: number): Promise<MeshPayload> {
  const mesh = meshes.get(snapshot) ?? (await read(snapshot));
  meshes.delete(snapshot);
  meshes.set(snapshot, mesh);
  for (const old of [...meshes.keys()].slice(0, -KEPT)) meshes.delete(old);
  last = snapshot;
  return mesh;
}

const MAGIC_OF_SHADED = 0x574d5331;

/** A part shaded by hard and soft edges, or as its smooth form. */
export interface ShadedPayload {
  origin: [number, number, number];
  places: Float32Array;
  normals: Float32Array;
  triangles: Uint32Array;
  /** The ends of the wire's edges, as places or as numbers of places. */
  wire: Float32Array | Uint32Array;
  /** How often a smooth form was subdivided. */
  rounds?: number;
}

/** The bytes at an address. */
export async function bytesAt(address: string): Promise<ArrayBuffer> {
  const answer = await fetch(address).catch(() => {
    throw unreachable();
  });
  answered();
  if (!answer.ok) throw refusalOf(await answer.json().catch(() => undefined), answer.status);
  return await answer.arrayBuffer();
}

export async function fetchShaded(snapshot: number): Promise<ShadedPayload> {
  const buffer = await bytesAt(`/api/meshes/${snapshot}/shaded`);
  const [magic, places = 0, triangles = 0, wire = 0] = new Uint32Array(buffer, 0, 8);
  if (magic !== MAGIC_OF_SHADED) throw new Error('the bytes are no shaded surface');
  const [x = 0, y = 0, z = 0] = new Float64Array(buffer.slice(32, 56));
  const next = blocks(56);
  return {
    origin: [x, y, z],
    places: new Float32Array(buffer, next(3 * places), 3 * places),
    normals: new Float32Array(buffer, next(3 * places), 3 * places),
    triangles: new Uint32Array(buffer, next(3 * triangles), 3 * triangles),
    wire: new Float32Array(buffer, next(6 * wire), 6 * wire),
  };
}

/** The mesh of a part beside the one in hand: read whole, and not kept here. */
export async function fetchOther(snapshot: number): Promise<MeshPayload> {
  return decodeMesh(await bytesAt(`/api/meshes/${snapshot}`));
}

async function read(snapshot: number): Promise<MeshPayload> {
  const before = last === null ? undefined : meshes.get(last);
  return meshOf(before, await bytesAt(`/api/meshes/${snapshot}${before ? `?since=${last}` : ''}`));
}

/** The mesh of a payload, be it whole or what changed in the one before. */
function meshOf(before: MeshPayload | undefined, buffer: ArrayBuffer): MeshPayload {
  const [magic] = new Uint32Array(buffer, 0, 1);
  return before && magic === MAGIC_OF_DIFFERENCE ? withChanges(before, buffer) : decodeMesh(buffer);
}

/** The mesh as a planned step would leave it; null if the step can't be carried out any more. */
export async function fetchPlanned(part: Schemas['PartOut'], step: Step): Promise<MeshPayload | null> {
  const { data } = await client.POST('/api/parts/{part_id}/planned-mesh', {
    params: { path: { part_id: part.id } },
    body: { revision: part.revision, step },
    parseAs: 'arrayBuffer',
  });
  return data === undefined ? null : meshOf(meshes.get(part.snapshot), data as ArrayBuffer);
}

/** Where each of some blocks of 4-byte values begins, one after the other. */
export function blocks(start: number): (count: number) => number {
  let at = start;
  return (count) => {
    const begin = at;
    at += 4 * count;
    return begin;
  };
}

interface Typed<Numbers> {
  new (length: number): Numbers;
}

function joined<Numbers extends Float32Array | Uint32Array | Uint8Array>(
  kind: Typed<Numbers>,
  first: ArrayLike<number>,
  second: ArrayLike<number>,
): Numbers {
  const made = new kind(first.length + second.length);
  made.set(first);
  made.set(second, first.length);
  return made;
}
