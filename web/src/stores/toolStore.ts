/** The tool in hand. */
import { createStore } from 'zustand/vanilla';

export type ToolName = 'pick' | 'knife';

export const toolStore = createStore<{ tool: ToolName }>(() => ({
  tool: localStorage.getItem('tool') === 'knife' ? 'knife' : 'pick',
}));

export function takeTool(tool: ToolName): void {
  toolStore.setState({ tool });
  localStorage.setItem('tool', tool);
}
