/** The field of a plan whose value was refused is marked, and led to. */
import { type RefObject, useEffect } from 'react';

/** The control for a path of a step, such as `woven.most_moved`: what it is found by ends as the path does. */
function fieldOf(where: string, card: Element): HTMLElement | null {
  const name = where
    .replace(/\[\d+\]/g, '')
    .split('.')
    .at(-1)
    ?.replaceAll('_', '-');
  return name ? card.querySelector<HTMLElement>(`[data-testid="${name}"], [data-testid$="-${name}"]`) : null;
}

/** Mark the field that a refusal is about in the card round an element, as long as it is refused. */
export function useRefusedField(inCard: RefObject<HTMLElement | null>, where: string | undefined): void {
  useEffect(() => {
    const card = inCard.current?.closest('section');
    const field = where && card ? fieldOf(where, card) : null;
    if (!field) return;
    field.dataset.refused = 'true';
    return () => {
      delete field.dataset.refused;
    };
  });
}
