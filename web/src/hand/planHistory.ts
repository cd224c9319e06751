/** What has been planned, change by change: it can be taken back and put again like made cuts. */
import type { StoreApi } from 'zustand/vanilla';
import { planStore } from '../stores/planStore';

interface Entry {
  /** The planned step as text; null for none. */
  step: string | null;
  kept: unknown;
  /** What a drag changes on its way is one change. */
  gesture: number;
  dragged: boolean;
}

let entries: Entry[] = [];
let at = -1;
let gesture = 0;
let dragging = false;

window.addEventListener(
  'pointerdown',
  () => {
    gesture += 1;
    dragging = false;
  },
  true,
);
window.addEventListener(
  'pointermove',
  (event) => {
    if (event.buttons === 1) dragging = true;
  },
  true,
);
window.addEventListener(
  'pointerup',
  () => {
    dragging = false;
  },
  true,
);

const tell = (): void => planStore.setState({ canTakeBack: at > 0, canPutAgain: at < entries.length - 1 });

/** Begin anew from what there is. */
export function startOver(step: string | null, kept: unknown): void {
  entries = [{ step, kept, gesture, dragged: false }];
  at = 0;
  tell();
}

/** The plan has changed; what was taken back before can't be put again then. */
export function remember(step: string | null, kept: unknown): void {
  const here = entries[at];
  if (!here) {
    startOver(step, kept);
    return;
  }
  if (here.step === step) here.kept = kept;
  else if (at > 0 && here.dragged && here.gesture === gesture) Object.assign(here, { step, kept });
  else {
    entries = [...entries.slice(0, at + 1), { step, kept, gesture, dragged: dragging }];
    at = entries.length - 1;
  }
  tell();
}

/** What the plan was before the last change, or after the one that was taken back last; null if there is none. */
export function stepAlong(by: -1 | 1): { kept: unknown } | null {
  const goal = entries[at + by];
  if (!goal) return null;
  at += by;
  tell();
  return goal;
}

/** What the plan was when it was a step that was asked for before, the latest such; null if it never was. */
export function backTo(step: string): { kept: unknown } | null {
  const found = entries.slice(0, at + 1).findLastIndex((entry) => entry.step === step);
  if (found < 0) return null;
  at = found;
  tell();
  return entries[found] ?? null;
}

/** How a tool's store is kept and put back: all of it but what only follows the pointer, which is put to rest. */
export function keeping<State extends object>(store: StoreApi<State>, atRest: Partial<State>) {
  return {
    keep: (): unknown => ({ ...store.getState(), ...atRest }),
    putBack: (kept: unknown): void => store.setState(kept as State),
  };
}
