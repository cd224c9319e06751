/** What parts of the page can do that are not always there: they offer it under the name of a command while they are. */
import { useEffect } from 'react';

const offered = new Map<string, () => void>();

/** Offer to do something while this is on the page; null for not now. */
export function useOffered(id: string, run: (() => void) | null): void {
  useEffect(() => {
    if (!run) return;
    offered.set(id, run);
    return () => {
      if (offered.get(id) === run) offered.delete(id);
    };
  });
}

/** How a command does what is offered under its name. */
export const asOffered = (id: string) => ({
  id,
  when: () => offered.has(id),
  run: () => offered.get(id)?.(),
});
