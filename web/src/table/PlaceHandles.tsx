/** Handles at the middle of the part in hand, while the list of parts is open: three to move it along the axes of the
 * table, three to turn it about them. */
import { useRef } from 'react';
import { useStore } from 'zustand';
import { type Pixel, type Place, projector } from '../space/projection';
import { asPartHas, standingOf } from '../space/standing';
import { partStore } from '../stores/partStore';
import { type Placement, tableStore } from '../stores/tableStore';
import { toolStore } from '../stores/toolStore';
import { viewStore } from '../stores/viewStore';
import { Arc, Stem } from '../viewport/HandleSigns';
import { useTableChanges } from './tableQueries';

const AXES = [
  ['x', [1, 0, 0]],
  ['y', [0, 1, 0]],
  ['z', [0, 0, 1]],
] as const;
/** How far from the middle the handles are, in pixels: those that move, and those that turn. */
const REACH_PX = 74;
const TURN_AT_PX = 50;
/** Handles of an axis that points at the eye are not drawn. */
const SHORTEST_PX = 18;
const TURN_STEP_DEG = 15;

interface Held {
  axis: number;
  by: 'move' | 'turn';
  from: Pixel;
  /** Pixels for a length of 1 along the axis, or where the middle is seen. */
  along: Pixel;
  centre: Pixel;
  /** Whether a turn to the right on the screen is one forward about the axis. */
  sign: number;
  start: Placement;
}

const minus = (a: Pixel, b: Pixel): Pixel => [a[0] - b[0], a[1] - b[1]];

export function PlaceHandles({ project }: { project: number }) {
  const list = useStore(tableStore, (s) => s.list);
  const looking = useStore(tableStore, (s) => s.spread !== null || s.falling !== null);
  const moving = useStore(tableStore, (s) => s.moving);
  const part = useStore(partStore, (s) => s.part);
  const picking = useStore(toolStore, (s) => s.tool === 'pick');
  const view = useStore(viewStore, (s) => s.view);
  const held = useRef<Held | null>(null);
  const { place } = useTableChanges(project);
  if (!list || !picking || looking || !part || !view) return null;
  const see = projector(view);
  const standing = standingOf(moving ?? part.placement);
  const middle = part.low.map((low, k) => (low + (part.high[k] ?? 0)) / 2) as unknown as Place;
  const centre = see(middle);
  if (!centre) return null;
  const size = Math.hypot(...part.high.map((high, k) => high - (part.low[k] ?? 0))) || 1;
  const eye = view.eye as Place;
  const target = view.target as Place;
  const towards: Place = [eye[0] - target[0], eye[1] - target[1], eye[2] - target[2]];

  const take = (axis: number, by: Held['by'], along: Pixel, sign: number) => (event: React.PointerEvent) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    held.current = { axis, by, from: [event.clientX, event.clientY], along, centre, sign, start: part.placement };
  };
  const drag = (event: React.PointerEvent): void => {
    const now = held.current;
    if (!now) return;
    const box = (event.currentTarget as SVGElement).ownerSVGElement?.getBoundingClientRect();
    const at: Pixel = [event.clientX - (box?.left ?? 0), event.clientY - (box?.top ?? 0)];
    const began: Pixel = [now.from[0] - (box?.left ?? 0), now.from[1] - (box?.top ?? 0)];
    tableStore.setState({ moving: pulled(now, began, at, size, event.altKey) });
  };
  const drop = (): void => {
    const { moving: meant } = tableStore.getState();
    held.current = null;
    if (!meant) return;
    void place(part.id, meant).finally(() => tableStore.setState({ moving: null }));
  };

  const forget = (): void => {
    held.current = null;
    tableStore.setState({ moving: null });
  };

  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full" data-testid="place-handles" aria-hidden="true">
      {AXES.map(([name, direction], k) => {
        const way = asPartHas(standing, direction);
        const step = size * 0.1;
        const tip = see([middle[0] + step * way[0], middle[1] + step * way[1], middle[2] + step * way[2]]);
        if (!tip) return null;
        const [dx, dy] = minus(tip, centre);
        const length = Math.hypot(dx, dy);
        const along: Pixel = [dx / step, dy / step];
        const toEye = way[0] * towards[0] + way[1] * towards[1] + way[2] * towards[2];
        const unit: Pixel = length > 0 ? [dx / length, dy / length] : [0, 0];
        // Of an axis seen from its end only the turn is of use: about the middle.
        const short = length / step < (0.25 * SHORTEST_PX) / step;
        const end: Pixel = [centre[0] + REACH_PX * unit[0], centre[1] + REACH_PX * unit[1]];
        const turn: Pixel = short
          ? [centre[0] - TURN_AT_PX * 0.7, centre[1] - TURN_AT_PX * 0.7]
          : [centre[0] - TURN_AT_PX * unit[0], centre[1] - TURN_AT_PX * unit[1]];
        const events = { onPointerMove: drag, onPointerUp: drop, onPointerCancel: forget };
        return (
          <g key={name} className="pointer-events-auto" data-handle={name}>
            {!short && (
              <g
                onPointerDown={take(k, 'move', along, 1)}
                {...events}
                className="cursor-move"
                data-testid={`handle-move-${name}`}
              >
                <Stem from={centre} to={end} name={name} />
              </g>
            )}
            <g
              onPointerDown={take(k, 'turn', along, toEye >= 0 ? -1 : 1)}
              {...events}
              className="cursor-grab"
              data-testid={`handle-turn-${name}`}
              transform={`translate(${turn[0]} ${turn[1]})`}
            >
              <Arc name={name} />
            </g>
          </g>
        );
      })}
    </svg>
  );
}

/** Where the part is meant to stand once a handle is pulled; settled on steps unless it is to be free. */
function pulled(
  { axis, by, along, centre, sign, start }: Held,
  from: Pixel,
  at: Pixel,
  size: number,
  free: boolean,
): Placement {
  const { move = [0, 0, 0], turn = [0, 0, 0] } = start;
  const set = (values: readonly number[], value: number) =>
    values.map((old, k) => (k === axis ? value : old)) as [number, number, number];
  if (by === 'move') {
    const [dx, dy] = minus(at, from);
    const [ax, ay] = along;
    const length = (dx * ax + dy * ay) / (ax * ax + ay * ay || 1);
    const step = 10 ** Math.floor(Math.log10(size / 40));
    const goal = (move[axis] ?? 0) + length;
    return { move: set(move, free ? goal : Number((Math.round(goal / step) * step).toPrecision(12))), turn };
  }
  const angle = (p: Pixel) => Math.atan2(p[1] - centre[1], p[0] - centre[0]);
  const degrees = (((sign * (angle(at) - angle(from)) * 180) / Math.PI + 540) % 360) - 180;
  const goal = (turn[axis] ?? 0) + degrees;
  return { move, turn: set(turn, free ? goal : Math.round(goal / TURN_STEP_DEG) * TURN_STEP_DEG) };
}
