/** What every tool says about itself, and the tool in hand. Each folder of `tools` with an `index.tsx` is one. */
import type { LucideIcon } from 'lucide-react';
import type { ComponentType } from 'react';
import type { Schemas, Step } from '../api/client';
import type { Project } from '../space/projection';
import type { TypedKind } from '../stores/planStore';
import { takeTool, toolStore } from '../stores/toolStore';
import type { Command } from './commands';

export type PointerPlace = [number, number];

export interface Modifiers {
  shift: boolean;
  control: boolean;
}

/** What a tool does with the pointer over the part, by its place in pixels, and with what is typed there. */
export interface PointerStates {
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
  /** The plan with its settings as it is, and how to have it so again. */
  keep: () => unknown;
  putBack: (kept: unknown) => void;
  /** The kinds of number that can be typed now, the likeliest first. */
  typeable: () => TypedKind[];
  /** A typed length may have a sign now. */
  signed?: () => boolean;
  /** A number was typed at the pointer. */
  takeTyped: (kind: TypedKind, value: number) => void | Promise<void>;
  /** The length of the edge that a share typed as a length is a share of, if one is meant now. */
  edgeLength: () => number | null;
}

/** What tools have in common to be set: how points are placed, and what a cut does beside its lines. */
export type Setting = 'stops' | 'lock' | 'mirror' | 'limit' | 'finish' | 'woven' | 'hard above' | 'follow';

export interface Tool extends PointerStates {
  name: string;
  key: string;
  words: string;
  /** What else people call what it does. */
  also: readonly string[];
  icon: LucideIcon;
  /** Its place on the bench. */
  order: number;
  Readout: ComponentType;
  /** What is planned and how, in the plan card. */
  Plan: ComponentType;
  /** Its settings that are seldom changed. */
  More?: ComponentType;
  /** Marks and handles above the part. */
  Marks: ComponentType<{ project: Project }>;
  /** Draws nothing itself, but tints or hides faces of the part while the tool is in hand. */
  Paint?: ComponentType;
  /** What it is for and how it is begun, for those who have it in hand for the first time. */
  hint: string;
  /** Said in the plan card while nothing is planned. */
  begin: string;
  /** What is planned, in a few words. */
  useAside: () => string | undefined;
  /** The tool's own settings that are not at their defaults. */
  useChanged: () => string[];
  reset: () => void;
  /** The shared settings that the tool takes heed of. */
  uses: Setting[];
  /** Which of them what is planned now takes heed of, if not all. */
  useHeeded?: () => Setting[];
  /** The plan is not far enough to be refused. */
  unfinished?: () => boolean;
  /** Something is begun, though not planned yet: Escape throws it away. */
  underWay?: () => boolean;
  /** Throw away what is begun beside a plan, which stays; whether there was such. */
  letGo?: () => boolean;
  /** What is planned has views of its own: it stays as it is when the part is turned. */
  keepsItsView?: boolean;
  /** Notes that the tool's own part of the plan card says. */
  saysItself?: (plan: Schemas['PlanOut']) => string[];
  half?: () => void;
  flip?: () => void;
  changeReach?: () => void;
  /** Commands of its own, there while it is in hand. */
  commands?: Command[];
}

const registered = new Map<string, Tool>();

/** Make tools known, in the order of work; the one that was in hand last is taken up again. */
export function registerTools(tools: Tool[]): void {
  for (const tool of [...tools].sort((a, b) => a.order - b.order)) registered.set(tool.name, tool);
  if (!registered.has(toolStore.getState().tool)) takeTool([...registered.keys()][0] ?? '');
}

export const allTools = (): Tool[] => [...registered.values()];

export function toolNamed(name: string): Tool {
  const found = registered.get(name);
  if (!found) throw new Error(`there is no tool ${name}`);
  return found;
}

export const toolInHand = (): Tool => toolNamed(toolStore.getState().tool);
