/** What lies under the pointer, asked for its menu. */
import type { PointerPlace } from '../../hand/tool';
import { elementMenuStore } from '../../stores/elementMenuStore';
import { meant } from '../../stores/meant';
import { NOTHING_PICKED, pickStore } from '../../stores/pickStore';
import { askPick } from '../reshape/askPick';
import { take } from '../reshape/pick';

export async function openElementMenu(at: PointerPlace): Promise<void> {
  const now = meant();
  const view = now?.view;
  if (!view) return;
  const found = await askPick({ by: 'pointer', kind: null, view, pointer: at, radius: 0 });
  if (!found) return;
  elementMenuStore.setState({ menu: { at, kind: found.kind, element: found.elements[0] ?? null, meant: now } });
}

/** Whether the element of the menu is among what is picked: then the menu is about all of that. */
export function isPicked(): boolean {
  const { menu } = elementMenuStore.getState();
  return menu !== null && menu.element !== null && pickStore.getState()[menu.kind].includes(menu.element);
}

/** Pick the element of the menu, unless it is among what is picked. */
export function pickMeant(): void {
  const { menu } = elementMenuStore.getState();
  if (!menu || menu.element === null || isPicked()) return;
  take({ kind: menu.kind, elements: [menu.element] }, 'replace');
}

/** What would be picked once the element is. */
export function pickToBe(): typeof NOTHING_PICKED {
  const { menu } = elementMenuStore.getState();
  const { vertices, edges, faces } = pickStore.getState();
  if (!menu || menu.element === null || isPicked()) return { vertices, edges, faces };
  return { ...NOTHING_PICKED, [menu.kind]: [menu.element] };
}
