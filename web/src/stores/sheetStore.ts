/** Which sheet lies over the workshop: all commands, the list of keys, or none. */
import { createStore } from 'zustand/vanilla';

export const sheetStore = createStore<{ sheet: 'commands' | 'keys' | null }>(() => ({ sheet: null }));

export function openSheet(sheet: 'commands' | 'keys' | null): void {
  sheetStore.setState({ sheet });
}
