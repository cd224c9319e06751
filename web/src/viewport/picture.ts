/** Small pictures of parts, drawn once each by one shared renderer. */
import { Box3, PerspectiveCamera, Scene, Sphere, Vector3, WebGLRenderer } from 'three';
import { FIELD_OF_VIEW_DEG, PICTURE_SIZE_PX } from '../options';
import { fetchMesh, type MeshPayload } from './meshPayload';
import { lights, PartObject } from './partObject';

let shared: WebGLRenderer | null = null;

/** A picture of a snapshot as a data address. */
export async function pictureOf(snapshot: number): Promise<string> {
  return pictureOfMesh(await fetchMesh(snapshot));
}

/** A picture of a mesh as a data address. */
export function pictureOfMesh(mesh: MeshPayload): string {
  shared ??= new WebGLRenderer({ antialias: true, alpha: true, preserveDrawingBuffer: true });
  const { width, height } = PICTURE_SIZE_PX;
  shared.setSize(width, height, false);
  const part = new PartObject(mesh);
  part.show({ wire: true, seeThrough: false });
  const around = new Box3().setFromObject(part).getBoundingSphere(new Sphere());
  const camera = new PerspectiveCamera(FIELD_OF_VIEW_DEG, width / height, around.radius / 10, around.radius * 20);
  const away = (around.radius * 1.02) / Math.sin((FIELD_OF_VIEW_DEG * Math.PI) / 360);
  camera.position.copy(around.center).addScaledVector(new Vector3(0.42, 0.42, 0.8).normalize(), away);
  camera.lookAt(around.center);
  const lamps = lights();
  lamps.quaternion.copy(camera.quaternion);
  const scene = new Scene();
  scene.add(part, lamps);
  shared.render(scene, camera);
  part.dispose();
  return shared.domElement.toDataURL();
}
