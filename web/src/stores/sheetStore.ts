/** Which sheet lies over the workshop: all commands, the list of keys, the starter shapes, or none. */
import { createStore } from 'zustand/vanilla';

export const sheetStore = createStore<{ sheet: 'commands' | 'keys' | 'shapes' | null }>(() => ({ sheet: null }));

export function openSheet(sheet: 'commands' | 'keys' | 'shapes' | null): void {
  sheetStore.setState({ sheet });
}
