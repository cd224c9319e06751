/** The side that a slice takes away: faded and cross-hatched, cut off exactly at the plane. */
import { Group, type Matrix4, Mesh, MeshLambertMaterial, Plane, type ShaderMaterial, Vector3, Vector4 } from 'three';
import type { Schemas } from '../api/client';
import type { MeshPayload } from './meshPayload';
import { patternMaterial, setColour } from './patterns';
import { flatSurface } from './surface';
import { themeColour } from './theme';

export class Scrap extends Group {
  /** What is left standing is seen only where all of these look. */
  readonly keeps: Plane[];
  private readonly hatch: ShaderMaterial;

  /** `faces` are those a slice is limited to; the planes look to the side that goes; `standing` is where the part stands. */
  constructor(mesh: MeshPayload, planes: Schemas['PlaneShown'][], faces: number[] | null, standing: Matrix4) {
    super();
    const own = planes.map(({ point, normal }) =>
      new Plane().setFromNormalAndCoplanarPoint(new Vector3(...normal), new Vector3(...point)),
    );
    // What is cut off is told in places of the table.
    const looking = own.map((plane) => plane.clone().applyMatrix4(standing));
    this.keeps = looking.map((plane) => plane.clone().negate());
    const geometry = flatSurface(mesh, faces && new Set(faces));
    const faded = new MeshLambertMaterial({
      color: themeColour('bone'),
      transparent: true,
      opacity: 0.34,
      polygonOffset: true,
      polygonOffsetFactor: 1,
      polygonOffsetUnits: 1,
      clippingPlanes: looking,
      clipIntersection: true,
    });
    const local = own.map(({ normal, constant }) => {
      // In the part's own places, which count from its origin.
      const [x, y, z] = mesh.origin;
      return new Vector4(normal.x, normal.y, normal.z, constant + normal.x * x + normal.y * y + normal.z * z);
    });
    this.hatch = patternMaterial('cross', local);
    const ghost = new Mesh(geometry, faded);
    // Before the wire, so that it hides what of the wire lies behind.
    ghost.renderOrder = -1;
    this.add(ghost, new Mesh(geometry, this.hatch));
    if (faces)
      this.add(
        new Mesh(flatSurface(mesh, othersThan(mesh, faces)), new MeshLambertMaterial({ color: themeColour('bone') })),
      );
    this.paint();
  }

  paint(): void {
    setColour(this.hatch, 'thread');
    for (const drawn of this.children) {
      const { material } = drawn as Mesh;
      if (material instanceof MeshLambertMaterial) material.color = themeColour('bone');
    }
  }

  override dispose(): void {
    for (const drawn of this.children as Mesh[]) {
      drawn.geometry.dispose();
      (drawn.material as MeshLambertMaterial).dispose();
    }
  }
}

function othersThan(mesh: MeshPayload, faces: number[]): Set<number> {
  const given = new Set(faces);
  return new Set([...mesh.triangleFaces].filter((face) => !given.has(face)));
}
