/** The edges that what is picked slides along, and the handle that slides it. */
import { useRef } from 'react';
import { useStore } from 'zustand';
import { distance, type Place, type Project } from '../../../../space/projection';
import { extraOf, planStore } from '../../../../stores/planStore';
import { viewStore } from '../../../../stores/viewStore';
import { Grip } from '../../../../viewport/Grip';
import { WORK } from '.';
import { slideTo } from './slideTo';

export function SlideRails({ project }: { project: Project }) {
  const rails = useStore(planStore, (s) => extraOf(s.plan, 'slide')?.rails);
  const { by } = WORK.use();
  const eye = useStore(viewStore, (s) => s.view?.eye as Place | undefined);
  const held = useRef(false);
  if (!rails || rails.length === 0 || !eye) return null;
  const [here, left, right] = rails.reduce((one, other) =>
    distance(other[0], eye) < distance(one[0], eye) ? other : one,
  );
  const goal = by >= 0 ? left : right;
  const share = Math.min(1, Math.abs(by));
  const at = project(goal ? (here.map((x, k) => x + share * ((goal[k] ?? 0) - x)) as unknown as Place) : here);
  const slide = (event: React.PointerEvent<SVGGElement>): void => {
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (!held.current || !box) return;
    slideTo({
      rail: [here, left, right],
      pointer: [event.clientX - box.left, event.clientY - box.top],
      free: event.altKey,
    });
  };
  return (
    <g data-testid="slide-rails" data-count={rails.length}>
      {rails.flatMap(([from, ...ends]) =>
        ends.map((end) => {
          const [a, b] = [project(from), end && project(end)];
          return (
            a &&
            b && (
              <line
                key={`${from.join()} ${end?.join()}`}
                x1={a[0]}
                y1={a[1]}
                x2={b[0]}
                y2={b[1]}
                stroke="var(--color-thread)"
                strokeWidth={1.4}
                strokeDasharray="2 3"
              />
            )
          );
        }),
      )}
      {at && (
        <g
          className="pointer-events-auto cursor-move touch-none"
          data-testid="slide-handle"
          onPointerDown={(event) => {
            event.stopPropagation();
            event.currentTarget.setPointerCapture(event.pointerId);
            held.current = true;
          }}
          onPointerMove={slide}
          onPointerUp={(event) => {
            slide(event);
            held.current = false;
          }}
          onPointerCancel={() => {
            held.current = false;
          }}
        >
          <Grip at={at} />
        </g>
      )}
    </g>
  );
}
