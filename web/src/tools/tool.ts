/** What every tool answers: the pointer over the part, by its place in pixels; and what it plans. */
import type { Step } from '../api/client';
import { NO_PLAN, planStore, type TypedKind } from '../stores/planStore';
import { type ToolName, takeTool, toolStore } from '../stores/toolStore';

export type PointerPlace = [number, number];

export interface Modifiers {
  shift: boolean;
  control: boolean;
}

export interface Tool {
  /** The pointer hovers; null when it has left the part's picture. */
  point: (at: PointerPlace | null) => void;
  /** The left button goes down. Whether the tool takes up a drag from here. */
  press: (at: PointerPlace, keys: Modifiers) => boolean;
  /** The pointer moves in a drag that the tool took up. */
  drag: (at: PointerPlace, keys: Modifiers) => void;
  /** Such a drag ends. */
  release: (at: PointerPlace, keys: Modifiers) => void;
  /** The left button went down and up in one place. */
  click: (at: PointerPlace, keys: Modifiers) => void;
  /** Leave no trace of what is under way. */
  clear: () => void;
  /** What is planned; null if nothing is. */
  step: () => Step | null;
  /** The kinds of number that can be typed now, the likeliest first. */
  typeable: () => TypedKind[];
  /** A number was typed at the pointer. */
  takeTyped: (kind: TypedKind, value: number) => void | Promise<void>;
  /** The length of the edge that a share typed as a length is a share of, if one is meant now. */
  edgeLength: () => number | null;
}

const tools = new Map<ToolName, Tool>();

export function registerTool(name: ToolName, tool: Tool): void {
  tools.set(name, tool);
}

export function toolInHand(): Tool | undefined {
  return tools.get(toolStore.getState().tool);
}

/** Put the tool down and take another. */
export function changeTool(name: ToolName): void {
  if (toolStore.getState().tool === name) return;
  clearPlan();
  takeTool(name);
}

/** Leave nothing of the plan of the tool in hand. */
export function clearPlan(): void {
  toolInHand()?.clear();
  planStore.setState({ ...NO_PLAN });
}
