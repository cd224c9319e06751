/** What a person likes to have otherwise, and which hints were read: kept in the browser. */
import { persist } from 'zustand/middleware';
import { createStore } from 'zustand/vanilla';
import { DEFAULT_ANGLE_STEP_DEG, DEFAULT_STOPS } from '../options';
import type { Unit } from '../ui/lengths';

/** Colours of what is planned. Told apart from what is picked, and from one another, by everyone's eyes. */
export const THREADS = [
  ['brick', 'brick'],
  ['plum', 'plum'],
  ['indigo', 'indigo'],
  ['amber', 'amber'],
] as const;

type Thread = (typeof THREADS)[number][0];

export interface Preferences {
  /** Where points settle along an edge until it is said otherwise. */
  stops: typeof DEFAULT_STOPS;
  angleStep: number;
  /** Share of its usual strength that the wire is drawn with. */
  wire: number;
  /** How large marks and handles are, as a share of the usual. */
  marks: number;
  thread: Thread;
  /** Of new projects. */
  unit: Unit;
  /** The press a command has instead of its first ones, by its id; empty for none. */
  keys: Record<string, string>;
  /** Tools whose hint was read. */
  hintsRead: string[];
}

export const USUAL: Preferences = {
  stops: DEFAULT_STOPS,
  angleStep: DEFAULT_ANGLE_STEP_DEG,
  wire: 1,
  marks: 1,
  thread: 'brick',
  unit: 'mm',
  keys: {},
  hintsRead: [],
};

export const preferencesStore = createStore<Preferences>()(
  persist(() => USUAL, { name: 'preferences', merge: (kept) => readable(kept) }),
);

/** What the browser has kept, where it is of the kind that is wanted: another version may have left something else. */
function readable(kept: unknown): Preferences {
  const found: Record<string, unknown> = { ...USUAL };
  for (const [name, usual] of Object.entries(USUAL)) {
    const value = (kept as Record<string, unknown> | null | undefined)?.[name];
    if (value === undefined) continue;
    const fits = typeof value === typeof usual && Array.isArray(value) === Array.isArray(usual);
    if (fits && (typeof value !== 'number' || (value > 0 && value < 1000))) found[name] = value;
  }
  const preferences = found as unknown as Preferences;
  const keys = Object.entries(preferences.keys).filter(([, press]) => typeof press === 'string');
  const thread = THREADS.find(([name]) => name === preferences.thread)?.[0] ?? USUAL.thread;
  return { ...preferences, keys: Object.fromEntries(keys), thread };
}

export function prefer(changed: Partial<Preferences>): void {
  preferencesStore.setState(changed);
  putOnPreferences();
}

/** Let the page's style follow. */
export function putOnPreferences(): void {
  const { thread, marks } = preferencesStore.getState();
  document.documentElement.dataset.thread = thread;
  document.documentElement.style.setProperty('--mark-size', String(marks));
}
