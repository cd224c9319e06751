/** Faces of a mesh as something that can be drawn flat-shaded. */
import { BufferAttribute, BufferGeometry } from 'three';
import type { MeshPayload } from './meshPayload';

/** The triangles of all faces, or of some, each with corners of its own. */
export function flatSurface(mesh: MeshPayload, faces: Set<number> | null): BufferGeometry {
  const { places, triangles, triangleFaces } = mesh;
  const wanted: number[] = [];
  for (let t = 0; t < triangleFaces.length; t++) if (!faces || faces.has(triangleFaces[t] as number)) wanted.push(t);
  const corners = new Float32Array(wanted.length * 9);
  wanted.forEach((t, k) => {
    for (let c = 0; c < 3; c++) {
      const v = 3 * (triangles[3 * t + c] as number);
      corners[9 * k + 3 * c] = places[v] as number;
      corners[9 * k + 3 * c + 1] = places[v + 1] as number;
      corners[9 * k + 3 * c + 2] = places[v + 2] as number;
    }
  });
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(corners, 3));
  geometry.computeVertexNormals();
  return geometry;
}

/** The place of a vertex, from the origin of the payload. */
export function placeOf({ places }: MeshPayload, vertex: number | undefined): [number, number, number] {
  const at = 3 * (vertex ?? 0);
  return [places[at] as number, places[at + 1] as number, places[at + 2] as number];
}

/** The places of the ends of some edges, one after the other. */
export function endsOf(mesh: MeshPayload, edges: number[]): number[] {
  return edges.flatMap((edge) => [...placeOf(mesh, mesh.edges[2 * edge]), ...placeOf(mesh, mesh.edges[2 * edge + 1])]);
}
