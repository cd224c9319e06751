/** How the part is looked at. Kept across reloads where a person would expect it. */
import { createStore } from 'zustand/vanilla';
import type { View } from '../api/client';

export type ViewName = 'perspective' | 'front' | 'back' | 'left' | 'right' | 'top' | 'bottom';

export const VIEWS: { name: ViewName; words: string; key: string }[] = [
  { name: 'perspective', words: 'Perspective', key: 'P' },
  { name: 'front', words: 'Front', key: 'F' },
  { name: 'back', words: 'Back', key: 'K' },
  { name: 'left', words: 'Left', key: 'L' },
  { name: 'right', words: 'Right', key: 'R' },
  { name: 'top', words: 'Top', key: 'T' },
  { name: 'bottom', words: 'Bottom', key: 'B' },
];

/** How the part in hand is drawn: its facets, shaded by hard and soft edges, as its smooth form. */
export type Look = (typeof LOOKS)[number][0];

export const LOOKS = [
  ['faces', 'Faces', '1'],
  ['shaded', 'Shaded', '2'],
  ['smooth', 'Smooth', '3'],
] as const;

interface ViewState {
  look: Look;
  /** How large the smooth form is that is drawn, in quads and bytes, and in how many rounds. */
  smoothSize: { quads: number; bytes: number; rounds: number } | null;
  /** The smooth form after what is planned: how far it moves at most, and where. */
  after: { most: number; at: [number, number, number] | null } | null;
  /** The line between before and after, as a share of the picture; whether the ways of places are hatched. */
  split: number;
  moves: boolean;
  view: View | null;
  name: ViewName;
  wire: boolean;
  seeThrough: boolean;
  night: boolean;
  /** What arrow keys move the reticle by. */
  walk: (typeof WALKS)[number][0];
}

const WALKS = [
  ['pixels', 'by pixels'],
  ['stops', 'from stop to stop'],
  ['vertices', 'from vertex to vertex'],
] as const;

export const viewStore = createStore<ViewState>(() => ({
  look: 'faces',
  smoothSize: null,
  after: null,
  split: 0.5,
  moves: false,
  view: null,
  name: 'perspective',
  wire: localStorage.getItem('wire') !== 'off',
  seeThrough: localStorage.getItem('see-through') === 'on',
  night: localStorage.getItem('theme') === 'night',
  walk: 'pixels',
}));

export function toggleWire(): void {
  viewStore.setState(({ wire }) => ({ wire: !wire }));
  localStorage.setItem('wire', viewStore.getState().wire ? 'on' : 'off');
}

export function toggleSeeThrough(): void {
  viewStore.setState(({ seeThrough }) => ({ seeThrough: !seeThrough }));
  localStorage.setItem('see-through', viewStore.getState().seeThrough ? 'on' : 'off');
}

export function toggleNight(): void {
  viewStore.setState(({ night }) => ({ night: !night }));
  localStorage.setItem('theme', viewStore.getState().night ? 'night' : 'day');
  putOnTheme();
}

export function putOnTheme(): void {
  document.documentElement.dataset.theme = viewStore.getState().night ? 'night' : 'day';
}

/** Let arrow keys move the reticle in the next way; gives that way in words. */
export function cycleWalk(): string {
  const at = WALKS.findIndex(([walk]) => walk === viewStore.getState().walk);
  const [walk, words] = WALKS[(at + 1) % WALKS.length] ?? WALKS[0];
  viewStore.setState({ walk });
  return words;
}
