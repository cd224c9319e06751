/** Pointing without a pointer: arrow keys move a reticle over the part, Space does what a click does there. */
import { type KeyboardEvent, useState } from 'react';
import { client, expectData, type Schemas } from '../api/client';
import { newestAnswer } from '../hand/aimer';
import { type PointerPlace, toolInHand } from '../hand/tool';
import { ORBIT_STEP_DEG, PAN_STEP_PX, RETICLE_STEP_PX, ZOOM_STEP } from '../options';
import { meet } from '../stores/partStore';
import { pickStore } from '../stores/pickStore';
import { planStore, settlingOf } from '../stores/planStore';
import { viewStore } from '../stores/viewStore';
import { walkedByKeyboard } from '../ui/modality';
import { stageOf } from './stageOf';

const WAYS: Record<string, { way: Schemas['WalkIn']['way']; by: readonly [number, number] }> = {
  ArrowLeft: { way: 'left', by: [-1, 0] },
  ArrowRight: { way: 'right', by: [1, 0] },
  ArrowUp: { way: 'up', by: [0, -1] },
  ArrowDown: { way: 'down', by: [0, 1] },
};
const KEYS = { shift: false, control: false };

const question = newestAnswer();

/** The next stop or vertex that an arrow key leads to; null if there is none, or something else is meant by now. */
async function walkOn(
  way: Schemas['WalkIn']['way'],
  by: Schemas['WalkIn']['by'],
  pointer: PointerPlace,
): Promise<PointerPlace | null> {
  const { shown } = pickStore.getState();
  const settling = settlingOf({ ...planStore.getState(), free: false, half: false });
  try {
    const answer = await question(({ part, view }) =>
      view
        ? expectData(
            client.POST('/api/parts/{part_id}/aim/walk', {
              params: { path: { part_id: part.id } },
              body: { revision: part.revision, view, pointer, way, by, settling, shown },
            }),
          )
        : Promise.resolve({ pointer: null }),
    );
    return answer?.pointer ?? null;
  } catch (error) {
    meet(error);
    return null;
  }
}

/** The reticle, and what the canvas does with keys while it has the focus. */
export function useReticle(onMenu: (at: PointerPlace) => void) {
  const [at, setAt] = useState<PointerPlace | null>(null);
  /** The focus came here by keyboard: then it is shown. */
  const [walkedTo, setWalkedTo] = useState(false);
  const move = (to: PointerPlace): void => {
    setAt(to);
    toolInHand().point(to);
  };
  const onKeyDown = (event: KeyboardEvent<HTMLCanvasElement>): void => {
    const { clientWidth: width, clientHeight: height } = event.currentTarget;
    const here: PointerPlace = at ?? planStore.getState().pointer ?? [width / 2, height / 2];
    if (event.key === 'Tab' && (at || walkedTo)) {
      // Whoever came here by keyboard leaves by it; numbers are typed by their digits.
      event.stopPropagation();
      return;
    }
    const arrow = WAYS[event.key];
    const { walk } = viewStore.getState();
    if (arrow) {
      const [x, y] = arrow.by;
      if (event.ctrlKey && event.shiftKey) stageOf.current?.pan(x * PAN_STEP_PX, y * PAN_STEP_PX);
      else if (event.ctrlKey) stageOf.current?.orbit(x * ORBIT_STEP_DEG, y * ORBIT_STEP_DEG);
      else if (walk !== 'pixels' && !event.shiftKey) void walkOn(arrow.way, walk, here).then((to) => to && move(to));
      else {
        const step = event.shiftKey ? 1 : RETICLE_STEP_PX;
        move([
          Math.min(width - 1, Math.max(0, here[0] + step * x)),
          Math.min(height - 1, Math.max(0, here[1] + step * y)),
        ]);
      }
    } else if (event.key === '+' || event.key === '-')
      stageOf.current?.zoom(event.key === '+' ? ZOOM_STEP : 1 / ZOOM_STEP);
    else if (event.key === ' ' && at) {
      const tool = toolInHand();
      tool.press(here, KEYS);
      tool.click(here, KEYS);
    } else if (event.key === 'ContextMenu' || (event.key === 'F10' && event.shiftKey)) onMenu(here);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return {
    reticle: at,
    focused: at !== null || walkedTo,
    keys: {
      tabIndex: 0,
      onKeyDown,
      onFocus: () => setWalkedTo(walkedByKeyboard()),
      onBlur: () => {
        setAt(null);
        setWalkedTo(false);
      },
    },
    /** The pointer is used again. */
    putAway: () => at && setAt(null),
  };
}

export function Reticle({ at: [x, y] }: { at: PointerPlace }) {
  return (
    <svg
      className="pointer-events-none absolute inset-0 h-full w-full"
      data-testid="reticle"
      data-at={`${x} ${y}`}
      aria-hidden="true"
    >
      <path
        d={`M${x - 16} ${y}h10M${x + 6} ${y}h10M${x} ${y - 16}v10M${x} ${y + 6}v10`}
        stroke="var(--color-ink)"
        strokeWidth={1.6}
      />
    </svg>
  );
}
