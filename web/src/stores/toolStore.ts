/** The tool in hand, by name. */
import { createStore } from 'zustand/vanilla';

export const toolStore = createStore<{ tool: string }>(() => ({ tool: localStorage.getItem('tool') ?? 'pick' }));

export function takeTool(tool: string): void {
  toolStore.setState({ tool });
  localStorage.setItem('tool', tool);
}
