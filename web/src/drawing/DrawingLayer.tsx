/** The drawing in its view, and above the part what is read off it. */
import { useRef } from 'react';
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { type Flat, type Pixel, type ViewPlane, viewPlane } from '../space/projection';
import { viewStore } from '../stores/viewStore';
import { formatLength } from '../ui/numbers';
import { type Drawing, useDrawings } from './drawingQueries';
import { drawingStore } from './drawingStore';

/** The picture itself, if it stands on this side of the part. */
export function DrawingPicture({ before }: { before: boolean }) {
  const on = useStore(drawingStore, (s) => s.on);
  const view = useStore(viewStore, (s) => s.view);
  const name = useStore(viewStore, (s) => s.name);
  const { drawing } = useDrawings();
  const plane = view && viewPlane(view);
  if (!on || !drawing || !plane || name !== drawing.placement.view || before !== drawing.placement.before) return null;
  const { x = 0, y = 0, height = 100, strength } = drawing.placement;
  const [left, top] = plane.toPixel([x, y + height]);
  return (
    <img
      src={`/api/drawings/${drawing.id}/picture`}
      alt={`Drawing: ${drawing.name}`}
      data-testid="drawing"
      className="pointer-events-none absolute max-w-none origin-top-left"
      style={{ left, top, height: height * plane.scale, opacity: strength }}
    />
  );
}

/** Marks on the drawing, and clicks on it while they mean something. */
export function DrawingMarks() {
  const { on, mode, clicked } = useStore(
    drawingStore,
    useShallow(({ on, mode, clicked }) => ({ on, mode, clicked })),
  );
  const view = useStore(viewStore, (s) => s.view);
  const name = useStore(viewStore, (s) => s.name);
  const { drawing, show, change } = useDrawings();
  const held = useRef<{ from: Flat; placement: Drawing['placement'] } | null>(null);
  const plane = view && viewPlane(view);
  if (!on || !drawing || !plane || name !== drawing.placement.view) return null;
  const { placement, marks } = drawing;

  const place = (event: React.PointerEvent): Flat => {
    const box = event.currentTarget.getBoundingClientRect();
    return settled(plane.fromPixel([event.clientX - box.left, event.clientY - box.top]), plane);
  };
  const press = (event: React.PointerEvent): void => {
    if (event.button !== 0) return;
    const at = place(event);
    const [first] = clicked;
    if (mode === 'move' && !placement.locked) {
      event.currentTarget.setPointerCapture(event.pointerId);
      held.current = { from: at, placement };
    } else if (mode === 'calibrate') drawingStore.setState({ clicked: clicked.length === 1 ? [...clicked, at] : [at] });
    else if (mode === 'heights')
      change(drawing.id, { marks: { ...marks, heights: [...(marks.heights ?? []), at[1]] } });
    else if (mode === 'widths' && first) {
      const width = Math.abs(at[0] - first[0]);
      if (width > 0)
        change(drawing.id, { marks: { ...marks, widths: [...(marks.widths ?? []), { at: first[1], width }] } });
      drawingStore.setState({ clicked: [] });
    } else if (mode === 'widths') drawingStore.setState({ clicked: [at] });
  };
  const drag = (event: React.PointerEvent): Drawing['placement'] | null => {
    if (!held.current) return null;
    const at = place(event);
    const { from, placement: then } = held.current;
    return { ...then, x: (then.x ?? 0) + at[0] - from[0], y: (then.y ?? 0) + at[1] - from[1] };
  };
  return (
    <>
      <svg
        className="pointer-events-none absolute inset-0 h-full w-full"
        aria-hidden="true"
        data-testid="drawing-marks"
      >
        {marks.heights?.map((height) => (
          <Height key={height} at={plane.toPixel([0, height])} words={formatLength(height)} width={view.size[0]} />
        ))}
        {marks.widths?.map(({ at, width }) => (
          <Width key={`${at} ${width}`} left={plane.toPixel([-width / 2, at])} right={plane.toPixel([width / 2, at])} />
        ))}
        {clicked.map((at) => (
          <Cross key={at.join()} at={plane.toPixel(at)} />
        ))}
      </svg>
      {mode !== 'look' && (
        <div
          data-testid="drawing-pointer"
          data-mode={mode}
          className="absolute inset-0"
          style={{ cursor: mode === 'move' ? 'move' : 'crosshair' }}
          onPointerDown={press}
          onPointerMove={(event) => {
            const moved = drag(event);
            if (moved) show(drawing.id, { placement: moved });
          }}
          onPointerUp={(event) => {
            const moved = drag(event);
            held.current = null;
            if (moved) change(drawing.id, { placement: moved });
          }}
        />
      )}
    </>
  );
}

/** A place as round as the pixels allow, so that what is read off has no stray digits. */
function settled([u, v]: Flat, { scale }: ViewPlane): Flat {
  const step = 10 ** Math.floor(Math.log10(2 / scale));
  const round = (value: number): number => Number((Math.round(value / step) * step).toPrecision(12));
  return [round(u), round(v)];
}

function Height({ at: [x, y], words, width }: { at: Pixel; words: string; width: number }) {
  return (
    <g data-testid="drawn-height">
      <line x1={0} x2={width} y1={y} y2={y} stroke="var(--color-tide)" strokeWidth={1} strokeDasharray="8 4" />
      <text x={x + 190} y={y - 4} fontSize={12.5} fill="var(--color-tide)">
        {words}
      </text>
    </g>
  );
}

function Width({ left, right }: { left: Pixel; right: Pixel }) {
  const [y, a, b] = [left[1], left[0], right[0]];
  return (
    <path
      data-testid="drawn-width"
      d={`M${a} ${y - 6}v12M${b} ${y - 6}v12M${a} ${y}H${b}`}
      fill="none"
      stroke="var(--color-tide)"
      strokeWidth={1.6}
    />
  );
}

function Cross({ at: [x, y] }: { at: Pixel }) {
  return <path d={`M${x - 7} ${y}h14M${x} ${y - 7}v14`} stroke="var(--color-tide)" strokeWidth={2} />;
}
