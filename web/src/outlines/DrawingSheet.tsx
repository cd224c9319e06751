/** The sheet an outline is drawn on: points are dragged, put in between, and added after the last of an open curve. */
import { type PointerEvent, useRef, useState } from 'react';
import type { Outline } from './outlineQueries';

export type NodeAt = { curve: number; node: number };

interface Props {
  outline: Outline;
  at: NodeAt | null;
  onPick: (at: NodeAt) => void;
  /** Where a point was put: of those there are, between two, or one more. */
  onPut: (at: NodeAt, to: [number, number], more?: { insert: boolean }) => void;
}

const WIDE = 270;
const HIGH = 216;
// More points than this are not drawn one by one: they come from a file.
const MOST_GRIPS = 160;

export function DrawingSheet({ outline, at, onPick, onPut }: Props) {
  const sheet = useRef<SVGSVGElement>(null);
  const [dragged, setDragged] = useState<(NodeAt & { to: [number, number] }) | null>(null);
  const { curves } = outline.drawn;
  const size = 1.35 * Math.max(outline.width, outline.height * (WIDE / HIGH), 4);
  const tall = size * (HIGH / WIDE);
  const unit = size / WIDE;
  const grips = curves.reduce((sum, curve) => sum + curve.nodes.length, 0) <= MOST_GRIPS;

  const placeOf = (event: PointerEvent): [number, number] => {
    const box = sheet.current?.getBoundingClientRect();
    if (!box) return [0, 0];
    return [
      ((event.clientX - box.left) / box.width - 0.5) * size,
      -((event.clientY - box.top) / box.height - 0.5) * tall,
    ];
  };
  const goOn = (event: PointerEvent): void => {
    const last = curves.length - 1;
    const curve = curves[last];
    if (curve && !curve.closed) onPut({ curve: last, node: curve.nodes.length }, placeOf(event));
  };
  const grip = (event: PointerEvent<Element>, where: NodeAt): void => {
    event.stopPropagation();
    sheet.current?.setPointerCapture(event.pointerId);
    onPick(where);
    setDragged({ ...where, to: placeOf(event) });
  };
  return (
    <svg
      ref={sheet}
      role="application"
      aria-label="Sheet of the outline"
      data-testid="drawing-sheet"
      width={WIDE}
      height={HIGH}
      viewBox={`${-size / 2} ${-tall / 2} ${size} ${tall}`}
      className="drafting mt-1 touch-none rounded border border-rule"
      onPointerDown={goOn}
      onPointerMove={(event) => dragged && setDragged({ ...dragged, to: placeOf(event) })}
      onPointerUp={(event) => {
        const home = dragged && curves[dragged.curve]?.nodes[dragged.node]?.at;
        if (dragged && home) {
          const to = placeOf(event);
          // A click only picks the point.
          if (Math.hypot(to[0] - home[0], to[1] - home[1]) > 3 * unit)
            onPut({ curve: dragged.curve, node: dragged.node }, to);
        }
        setDragged(null);
      }}
    >
      <path d={`M${-size} 0H${size}M0 ${-tall}V${tall}`} stroke="var(--color-rule)" strokeWidth={unit} />
      {outline.curves.map((curve, k) => (
        <path
          // biome-ignore lint/suspicious/noArrayIndexKey: curves of an outline have no names
          key={k}
          d={`M${curve.points.map(([x, y]) => `${x} ${-y}`).join('L')}${curve.closed ? 'Z' : ''}`}
          fill="none"
          stroke="var(--color-thread)"
          strokeWidth={1.6 * unit}
        />
      ))}
      {grips &&
        curves.map((curve, c) =>
          curve.nodes.map((node, n) => {
            const next = curve.nodes[(n + 1) % curve.nodes.length];
            const moved = dragged?.curve === c && dragged.node === n ? dragged.to : (node.at as [number, number]);
            const picked = at?.curve === c && at.node === n;
            const half: [number, number] | null =
              next && (curve.closed || n + 1 < curve.nodes.length)
                ? [(node.at[0] + next.at[0]) / 2, (node.at[1] + next.at[1]) / 2]
                : null;
            return (
              // biome-ignore lint/suspicious/noArrayIndexKey: points of a curve are told apart by their order
              <g key={`${c} ${n}`}>
                {half && (
                  <path
                    data-between={`${c}.${n}`}
                    d={`M${half[0] - 3 * unit} ${-half[1]}h${6 * unit}M${half[0]} ${-half[1] - 3 * unit}v${6 * unit}`}
                    stroke="var(--color-soft)"
                    strokeWidth={1.4 * unit}
                    className="cursor-copy"
                    onPointerDown={(event) => {
                      event.stopPropagation();
                      onPut({ curve: c, node: n + 1 }, half, { insert: true });
                    }}
                  />
                )}
                <rect
                  data-node={`${c}.${n}`}
                  x={moved[0] - 4 * unit}
                  y={-moved[1] - 4 * unit}
                  width={8 * unit}
                  height={8 * unit}
                  fill={picked ? 'var(--color-tide)' : 'var(--color-card)'}
                  stroke="var(--color-ink)"
                  strokeWidth={1.4 * unit}
                  className="cursor-move"
                  onPointerDown={(event) => grip(event, { curve: c, node: n })}
                />
              </g>
            );
          }),
        )}
    </svg>
  );
}
