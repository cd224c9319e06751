/** Something of the page brought into sight, and the keyboard with it, once what lies over the page is gone. */

const GIVE_UP_AFTER = 40;

/** Find it by its name on the page; whether it has come by then is told. */
export function bringIntoSight(name: string, told: (there: boolean) => void = () => {}, after = GIVE_UP_AFTER): void {
  const found = document.querySelector<HTMLElement>(`[data-testid="${name}"]`);
  if (after > 0 && (!found || document.querySelector('[role=dialog]'))) {
    requestAnimationFrame(() => bringIntoSight(name, told, after - 1));
    return;
  }
  found?.scrollIntoView({ block: 'nearest' });
  const control = found?.matches('input, button') ? found : found?.querySelector<HTMLElement>('input, button');
  // Sheets that close give the keyboard back a moment later.
  setTimeout(() => control?.focus());
  told(control !== null && control !== undefined);
}
