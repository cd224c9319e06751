/** Which cards are folded to a line, and which rows under *more* are out: as a person left them, kept in the browser. */
import { persist } from 'zustand/middleware';
import { createStore } from 'zustand/vanilla';

interface Folds {
  /** Cards that were opened or folded by hand, by name: while nothing is planned, and while something is. */
  apart: Record<string, boolean>;
  planning: Record<string, boolean>;
  /** Tools whose further settings are out. */
  more: Record<string, boolean>;
}

const AS_IT_COMES: Folds = { apart: {}, planning: {}, more: {} };

export const foldStore = createStore<Folds>()(
  persist(() => AS_IT_COMES, { name: 'folds', merge: (kept) => readable(kept) }),
);

/** What the browser has kept, where it is of the kind that is wanted. */
function readable(kept: unknown): Folds {
  const found = (kept ?? {}) as Record<string, Record<string, unknown> | undefined>;
  const of = (name: keyof Folds): Record<string, boolean> =>
    Object.fromEntries(Object.entries(found[name] ?? {}).filter(([, open]) => typeof open === 'boolean')) as Record<
      string,
      boolean
    >;
  return { apart: of('apart'), planning: of('planning'), more: of('more') };
}

/** Remember that something was opened or folded. */
export function fold(where: keyof Folds, name: string, open: boolean): void {
  foldStore.setState(({ [where]: before }) => ({ [where]: { ...before, [name]: open } }));
}
