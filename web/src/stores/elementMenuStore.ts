/** The menu of what lies under the pointer. */
import { createStore } from 'zustand/vanilla';
import type { Meant } from './meant';
import type { PickKind } from './pickStore';

export interface ElementMenu {
  /** The pointer over the part's picture. */
  at: [number, number];
  kind: PickKind;
  /** The element there; null where the part is not. */
  element: number | null;
  /** What it was asked of: once the part or the view is another, the menu is about nothing. */
  meant: Meant;
}

export const elementMenuStore = createStore<{ menu: ElementMenu | null }>(() => ({ menu: null }));

export const closeElementMenu = (): void => elementMenuStore.setState({ menu: null });
