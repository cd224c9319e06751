/** From places in space to pixels, for a view in the service's own terms. */
import type { View } from '../api/client';

export type Place = readonly [number, number, number];
export type Pixel = readonly [number, number];
export type Project = (place: Place) => Pixel | null;

const minus = (a: Place, b: Place): Place => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
export const dot = (a: Place, b: Place): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const cross = (a: Place, b: Place): Place => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const unit = (a: Place): Place => {
  const size = Math.hypot(...a) || 1;
  return [a[0] / size, a[1] / size, a[2] / size];
};

export const distance = (a: Place, b: Place): number => Math.hypot(...minus(a, b));

export type Flat = readonly [number, number];

/** The plane of a parallel view: from pixels to lengths right and up from the part's origin, and back. */
export interface ViewPlane {
  toPixel: (place: Flat) => Pixel;
  fromPixel: (pixel: Pixel) => Flat;
  /** Pixels for a length of 1. */
  scale: number;
}

/** The plane of a view; null in perspective, where lengths depend on the depth. */
export function viewPlane(view: View): ViewPlane | null {
  if (view.projection !== 'parallel') return null;
  const forward = unit(minus(view.target as Place, view.eye as Place));
  const right = unit(cross(forward, view.up as Place));
  const up = cross(right, forward);
  const [width = 1, height = 1] = view.size;
  const scale = height / (view.height ?? 1);
  const [x, y] = [dot(view.target as Place, right), dot(view.target as Place, up)];
  return {
    toPixel: ([u, v]) => [width / 2 + (u - x) * scale, height / 2 - (v - y) * scale],
    fromPixel: ([a, b]) => [x + (a - width / 2) / scale, y - (b - height / 2) / scale],
    scale,
  };
}

/** The projection of a view; null for places behind a perspective eye. */
export function projector(view: View): Project {
  const eye = view.eye as Place;
  const forward = unit(minus(view.target as Place, eye));
  const right = unit(cross(forward, view.up as Place));
  const up = cross(right, forward);
  const [width = 1, height = 1] = view.size;
  const parallel = view.projection === 'parallel';
  const scale = parallel
    ? height / (view.height ?? 1)
    : height / (2 * Math.tan((((view.fov ?? 40) / 2) * Math.PI) / 180));
  return (place) => {
    const local = minus(place, eye);
    const depth = dot(local, forward);
    if (!parallel && depth <= 0) return null;
    const reach = parallel ? scale : scale / depth;
    return [width / 2 + dot(local, right) * reach, height / 2 - dot(local, up) * reach];
  };
}
