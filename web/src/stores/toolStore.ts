/** The tool in hand; null while the part is only looked at. */
import { createStore } from 'zustand/vanilla';

export type ToolName = 'knife';

export const toolStore = createStore<{ tool: ToolName | null }>(() => ({
  tool: localStorage.getItem('tool') === 'knife' ? 'knife' : null,
}));

export function takeTool(tool: ToolName | null): void {
  toolStore.setState({ tool });
  localStorage.setItem('tool', tool ?? '');
}
