/** Which lessons were taken to their end: kept in the browser. */
import { persist } from 'zustand/middleware';
import { createStore } from 'zustand/vanilla';

export const lessonStore = createStore<{ taken: string[] }>()(
  persist(() => ({ taken: [] as string[] }), { name: 'lessons', merge: (kept) => ({ taken: readable(kept) }) }),
);

function readable(kept: unknown): string[] {
  const { taken } = (kept ?? {}) as { taken?: unknown };
  return Array.isArray(taken) ? taken.filter((name) => typeof name === 'string') : [];
}

export function noteTaken(name: string): void {
  if (!lessonStore.getState().taken.includes(name)) lessonStore.setState(({ taken }) => ({ taken: [...taken, name] }));
}
