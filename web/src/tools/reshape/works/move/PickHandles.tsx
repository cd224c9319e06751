/** Handles at the middle of the pick: along the axes, its normal and its edge, in planes, or round them. */
import { useRef } from 'react';
import { useStore } from 'zustand';
import { DRAG_STARTS_AFTER_PX } from '../../../../options';
import { type Pixel, type Place, projector } from '../../../../space/projection';
import { viewStore } from '../../../../stores/viewStore';
import { Arc, Patch, Stem } from '../../../../viewport/HandleSigns';
import { WORK } from '.';
import { directionOf, letGoAt, pullTo } from './handles';
import type { Grip, Moving } from './moving';

/** How far from the middle handles are, in pixels. */
const REACH_PX = 78;
const TURN_AT_PX = 62;
const PLANE_FROM_PX = 26;
const PLANE_TO_PX = 42;
/** A direction that is seen shorter than this share of its length has no handle. */
const SHORTEST = 0.2;
const ALONG_AXIS = 0.9999;

const NAMES: [Grip, string][] = [
  ['x', 'x'],
  ['y', 'y'],
  ['z', 'z'],
  ['normal', 'n'],
  ['edge', 'e'],
];
const PLANES: [Grip, Grip, Grip][] = [
  ['xy', 'x', 'y'],
  ['yz', 'y', 'z'],
  ['xz', 'x', 'z'],
];

interface Held {
  grip: Grip;
  from: Moving;
  pressed: [number, number];
  /** It was pulled, and not only pressed. */
  pulled: boolean;
}

const on = ([x, y]: Pixel, by: Pixel, length: number): Pixel => [x + length * by[0], y + length * by[1]];

export function PickHandles() {
  const { handles, moving } = WORK.use();
  const view = useStore(viewStore, (s) => s.view);
  const held = useRef<Held | null>(null);
  if (!handles || !view) return null;
  const see = projector(view);
  const middle = handles.middle.map((at, k) => at + (moving.way === 'shift' ? (moving.by[k] ?? 0) : 0));
  const here = see(middle as unknown as Place);
  if (!here) return null;

  const take = (grip: Grip) => (event: React.PointerEvent<SVGGElement>) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    held.current = { grip, from: moving, pressed: placeIn(event), pulled: false };
  };
  const tell = (how: typeof pullTo) => (event: React.PointerEvent<SVGGElement>) => {
    if (!held.current) return;
    const { pulled, ...pull } = held.current;
    const pointer = placeIn(event);
    const [across, down] = [pointer[0] - pull.pressed[0], pointer[1] - pull.pressed[1]];
    held.current.pulled = pulled || Math.hypot(across, down) >= DRAG_STARTS_AFTER_PX;
    if (held.current.pulled) how({ ...pull, pointer, free: event.altKey, onto: event.ctrlKey || event.metaKey });
  };
  const grabs = (grip: Grip) => ({
    className: 'pointer-events-auto cursor-move touch-none',
    'data-testid': `pick-${moving.way}-${grip}`,
    onPointerDown: take(grip),
    onPointerMove: tell(pullTo),
    onPointerUp: (event: React.PointerEvent<SVGGElement>) => {
      tell(letGoAt)(event);
      held.current = null;
    },
    onPointerCancel: () => {
      held.current = null;
    },
  });

  // How each direction is seen: a unit way on the screen, and which share of its length is left.
  const size = 0.01 * Math.hypot(...view.eye.map((at, k) => at - (middle[k] ?? 0))) || 1;
  const facing = lengthOf(see, middle, here, size);
  const seen = NAMES.flatMap(([grip, name]) => {
    const way = directionOf(grip, handles);
    // A normal or an edge that runs along an axis has its handle already.
    if (grip.length > 1 && way?.some((k) => Math.abs(k) > ALONG_AXIS)) return [];
    const tip = way && see(middle.map((at, k) => at + size * (way[k] ?? 0)) as unknown as Place);
    if (!tip) return [];
    const by: Pixel = [tip[0] - here[0], tip[1] - here[1]];
    const length = Math.hypot(...by);
    return length / facing < SHORTEST ? [] : [{ grip, name, by: [by[0] / length, by[1] / length] as Pixel }];
  });
  const byGrip = new Map(seen.map((one) => [one.grip, one]));
  const { way } = moving;
  return (
    <g data-testid="pick-handles">
      {way !== 'turn' &&
        PLANES.map(([grip, a, b]) => {
          const [one, other] = [byGrip.get(a), byGrip.get(b)];
          if (!one || !other) return null;
          const corner = (u: number, v: number): Pixel => on(on(here, one.by, u), other.by, v);
          return (
            <g key={grip} {...grabs(grip)}>
              <Patch
                corners={[
                  corner(PLANE_FROM_PX, PLANE_FROM_PX),
                  corner(PLANE_TO_PX, PLANE_FROM_PX),
                  corner(PLANE_TO_PX, PLANE_TO_PX),
                  corner(PLANE_FROM_PX, PLANE_TO_PX),
                ]}
              />
            </g>
          );
        })}
      {seen
        .filter(({ grip }) => way !== 'scale' || grip.length === 1)
        .map(({ grip, name, by }) =>
          way === 'turn' ? (
            <g key={grip} {...grabs(grip)} transform={`translate(${on(here, by, TURN_AT_PX).join(' ')})`}>
              <Arc name={name} />
            </g>
          ) : (
            <g key={grip} {...grabs(grip)}>
              <Stem from={here} to={on(here, by, REACH_PX)} name={name} square={way === 'scale'} />
            </g>
          ),
        )}
      <g {...grabs(way === 'scale' ? 'all' : 'view')} transform={`translate(${here.join(' ')})`}>
        <circle r={way === 'scale' ? 13 : 10} fill="var(--color-card)" stroke="var(--color-thread)" strokeWidth={2} />
        <circle r={2.5} fill="var(--color-thread)" />
      </g>
    </g>
  );
}

/** How long a length is on the screen at the middle, seen square to the view. */
function lengthOf(see: (place: Place) => Pixel | null, middle: number[], here: Pixel, size: number): number {
  const lengths = [0, 1, 2].map((k) => {
    const tip = see(middle.with(k, (middle[k] ?? 0) + size) as unknown as Place);
    return tip ? Math.hypot(tip[0] - here[0], tip[1] - here[1]) : 0;
  });
  // Of three directions square to each other what is seen of them adds up to twice the square.
  return Math.sqrt(lengths.reduce((sum, length) => sum + length * length, 0) / 2) || 1;
}

function placeIn(event: React.PointerEvent<SVGGElement>): [number, number] {
  const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
  return [event.clientX - (box?.left ?? 0), event.clientY - (box?.top ?? 0)];
}
