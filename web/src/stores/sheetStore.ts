/** Which sheet lies over the workshop: all commands, the list of keys, the starter shapes, the parts, preferences, the lessons, or none. */
import { createStore } from 'zustand/vanilla';

type SheetName = 'commands' | 'keys' | 'shapes' | 'parts' | 'preferences' | 'lessons';

export const sheetStore = createStore<{ sheet: SheetName | null }>(() => ({ sheet: null }));

export function openSheet(sheet: SheetName | null): void {
  sheetStore.setState({ sheet });
}
