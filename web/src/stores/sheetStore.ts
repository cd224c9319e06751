/** Which sheet lies over the workshop: all commands, the list of keys, the starter shapes, the parts, preferences, the lessons, a picture, or none. */
import { createStore } from 'zustand/vanilla';

type SheetName = 'commands' | 'keys' | 'shapes' | 'parts' | 'preferences' | 'lessons' | 'picture';

interface SheetState {
  sheet: SheetName | null;
  /** What is typed to find a command: some of it before the list has come. */
  typed: string;
}

export const sheetStore = createStore<SheetState>(() => ({ sheet: null, typed: '' }));

export function openSheet(sheet: SheetName | null): void {
  sheetStore.setState({ sheet, typed: '' });
}
