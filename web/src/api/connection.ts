/** Waiting for the service: one timer for all who wait, which asks less and less often until something is answered. */

const WAITS_MS = [1000, 2000, 4000, 8000, 15_000];

const waiting = new Map<string, () => void>();
let timer: ReturnType<typeof setTimeout> | null = null;
let tries = 0;

/** Do something again once the service answers; of those who wait under one name the last counts. */
export function whenBack(name: string, again: () => void): void {
  waiting.set(name, again);
  timer ??= setTimeout(probe, WAITS_MS[Math.min(tries, WAITS_MS.length - 1)]);
}

/** One of those who wait tries; if it is answered, so are the others. */
function probe(): void {
  timer = null;
  tries += 1;
  const [first] = waiting;
  if (!first) return;
  waiting.delete(first[0]);
  first[1]();
  if (waiting.size > 0) timer ??= setTimeout(probe, WAITS_MS[Math.min(tries, WAITS_MS.length - 1)]);
}

/** The service has answered, whatever it said. */
export function answered(): void {
  tries = 0;
  if (waiting.size === 0) return;
  if (timer) clearTimeout(timer);
  timer = null;
  const all = [...waiting.values()];
  waiting.clear();
  for (const again of all) again();
}
