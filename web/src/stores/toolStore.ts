/** The tool in hand. */
import { createStore } from 'zustand/vanilla';

export const TOOL_NAMES = ['pick', 'knife', 'loop', 'slice', 'outline', 'gauge'] as const;
export type ToolName = (typeof TOOL_NAMES)[number];

const kept = localStorage.getItem('tool');

export const toolStore = createStore<{ tool: ToolName }>(() => ({
  tool: TOOL_NAMES.find((name) => name === kept) ?? 'pick',
}));

export function takeTool(tool: ToolName): void {
  toolStore.setState({ tool });
  localStorage.setItem('tool', tool);
}
