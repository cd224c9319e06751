/** The smooth form of the part, kept in patches: of a later one only what has changed is sent. */
import { client, type Schemas, type Step } from '../api/client';
import { followed } from '../stores/jobStore';
import { blocks, bytesAt, type ShadedPayload } from './meshPayload';

const MAGIC = 0x574d5332;

/** A grid of places for each corner of a face. */
interface SmoothForm {
  origin: [number, number, number];
  /** Places along one side of a grid. */
  side: number;
  places: Float32Array;
  normals: Float32Array;
}

/** A form drawn beside another: how far it moves at most, and each of its places. */
export interface Planned {
  drawn: ShadedPayload;
  most: number;
  moves: Float32Array | null;
  /** The place that moves most. */
  at: [number, number, number] | null;
}

/** The form that was asked for last, and of which snapshot it is. */
let last: { snapshot: number; form: SmoothForm } | null = null;
let asked = 0;

export async function fetchSmooth(snapshot: number): Promise<ShadedPayload> {
  const before = last;
  if (before?.snapshot === snapshot) return drawn(before.form);
  asked += 1;
  const turn = asked;
  const since = before ? `since=${before.snapshot}&` : '';
  const buffer = await followed('Working out the smooth form', (job) =>
    bytesAt(`/api/meshes/${snapshot}/smooth?${since}job=${job}`),
  );
  const { form } = decoded(buffer, before?.form ?? null);
  // One that comes after a later one was asked for is no longer what plans are made from.
  if (turn === asked) last = { snapshot, form };
  return drawn(form);
}

/** The form as a planned step would leave it; null if the step can't be carried out any more. */
export async function fetchPlannedSmooth(
  part: Schemas['PartOut'],
  step: Step,
  moves: boolean,
): Promise<Planned | null> {
  if (last?.snapshot !== part.snapshot) return null;
  const { form: before } = last;
  const { data, response } = await followed('Working out the smooth form', (job) =>
    client.POST('/api/parts/{part_id}/planned-smooth', {
      params: { path: { part_id: part.id }, query: { job } },
      body: { revision: part.revision, step, moves },
      parseAs: 'arrayBuffer',
    }),
  );
  if (data === undefined) return null;
  const { form, moves: away } = decoded(data as ArrayBuffer, before);
  return {
    drawn: drawn(form),
    most: Number(response.headers.get('X-Moves-Most') ?? 0),
    moves: away,
    at: away && farthest(form, away),
  };
}

/** The form of some faces alone. */
export async function fetchSmoothPick(part: Schemas['PartOut'], faces: number[]): Promise<ShadedPayload | null> {
  const { data } = await client.POST('/api/parts/{part_id}/smooth-pick', {
    params: { path: { part_id: part.id } },
    body: { revision: part.revision, faces },
    parseAs: 'arrayBuffer',
  });
  return data === undefined ? null : drawn(decoded(data as ArrayBuffer, null).form);
}

function farthest({ origin, places }: SmoothForm, away: Float32Array): [number, number, number] | null {
  let best = -1;
  away.forEach((way, k) => {
    if (way > (away[best] ?? 0)) best = k;
  });
  if (best < 0) return null;
  return origin.map((at, k) => at + (places[3 * best + k] ?? 0)) as [number, number, number];
}

/** The form of a payload, and how far each of its places moves, if that is told. */
function decoded(buffer: ArrayBuffer, before: SmoothForm | null): { form: SmoothForm; moves: Float32Array | null } {
  const [magic, corners = 0, grid = 0, runs = 0, fresh = 0, told = 0] = new Uint32Array(buffer, 0, 8);
  if (magic !== MAGIC) throw new Error('the bytes are no smooth form');
  const [x = 0, y = 0, z = 0] = new Float64Array(buffer.slice(32, 56));
  const next = blocks(56);
  const runsOf = new Uint32Array(buffer, next(3 * runs), 3 * runs);
  const anew = new Uint32Array(buffer, next(fresh), fresh);
  const size = 3 * grid;
  const newPlaces = new Float32Array(buffer, next(size * fresh), size * fresh);
  const newNormals = new Float32Array(buffer, next(size * fresh), size * fresh);
  const away = new Float32Array(buffer, next(told), told);
  const places = new Float32Array(size * corners);
  const normals = new Float32Array(size * corners);
  const moves = told ? new Float32Array(grid * corners) : null;
  // The service may have begun anew meanwhile, from another origin.
  const [u, v, w] = before ? before.origin : [x, y, z];
  const aside = u === x && v === y && w === z ? null : [u - x, v - y, w - z];
  for (let r = 0; r < runs; r++) {
    const [to = 0, from = 0, count = 0] = runsOf.subarray(3 * r, 3 * r + 3);
    if (!before) throw new Error('what the form is made from is not there');
    const taken = before.places.subarray(size * from, size * (from + count));
    places.set(aside ? taken.map((at, k) => at + (aside[k % 3] ?? 0)) : taken, size * to);
    normals.set(before.normals.subarray(size * from, size * (from + count)), size * to);
  }
  anew.forEach((to, k) => {
    places.set(newPlaces.subarray(size * k, size * (k + 1)), size * to);
    normals.set(newNormals.subarray(size * k, size * (k + 1)), size * to);
    moves?.set(away.subarray(grid * k, grid * (k + 1)), grid * to);
  });
  return { form: { origin: [x, y, z], side: Math.round(Math.sqrt(grid)), places, normals }, moves };
}

/** A form with the triangles of its grids, and with its edges as a wire: they run along the first row and column. */
function drawn({ origin, side, places, normals }: SmoothForm): ShadedPayload {
  const grid = side * side;
  const corners = places.length / 3 / grid;
  const cells = side - 1;
  const triangles = new Uint32Array(corners * cells * cells * 6);
  const wire = new Uint32Array(corners * cells * 4);
  let t = 0;
  let w = 0;
  for (let c = 0; c < corners; c++) {
    const first = c * grid;
    for (let j = 0; j < cells; j++) {
      for (let i = 0; i < cells; i++) {
        const a = first + j * side + i;
        triangles.set([a, a + 1, a + side + 1, a, a + side + 1, a + side], t);
        t += 6;
      }
      wire.set([first + j, first + j + 1, first + j * side, first + (j + 1) * side], w);
      w += 4;
    }
  }
  return { origin, places, normals, triangles, wire, rounds: cells };
}
