/** The drawer of outlines: whether it is open, and which outline is worked on in it. */
import { createStore } from 'zustand/vanilla';

export const drawerStore = createStore<{ open: boolean; edited: number | null }>(() => ({ open: false, edited: null }));

export function toggleDrawer(): void {
  drawerStore.setState({ open: !drawerStore.getState().open });
}
