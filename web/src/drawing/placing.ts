/** Where a drawing stands that has just come in: behind the middle of the part, as tall as it. */
import type { Schemas } from '../api/client';
import { cross, dot, type Place } from '../space/projection';
import { partStore } from '../stores/partStore';
import type { ViewName } from '../stores/viewStore';
import { STANDARD_VIEWS } from '../viewport/standardViews';

type Drawing = Schemas['DrawingOut'];

/** The breadth of a picture as a share of its height; that of a square if it can't be told. */
async function breadthOf(address: string): Promise<number> {
  const picture = new Image();
  picture.src = address;
  await picture.decode().catch(() => {});
  return picture.naturalHeight > 0 ? picture.naturalWidth / picture.naturalHeight : 1;
}

/** How it is placed in a parallel view; null without a part to stand behind. */
export async function behindThePart(drawing: Drawing, name: ViewName): Promise<Drawing['placement'] | null> {
  const { part } = partStore.getState();
  if (!part) return null;
  const view = name === 'perspective' ? 'front' : name;
  const { forward, up } = STANDARD_VIEWS[view];
  const right = cross(forward, up);
  const along = (way: Place): [number, number] => {
    const ends = [dot(part.low as Place, way), dot(part.high as Place, way)];
    return [Math.min(...ends), Math.max(...ends)];
  };
  const [low, high] = along(up);
  const [left, most] = along(right);
  const height = high - low;
  if (height <= 0) return null;
  const breadth = height * (await breadthOf(`/api/drawings/${drawing.id}/picture`));
  return { ...drawing.placement, view, x: (left + most) / 2 - breadth / 2, y: low, height };
}
