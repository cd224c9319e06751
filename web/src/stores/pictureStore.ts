/** How pictures of the view are taken: kept in the browser. */
import { persist } from 'zustand/middleware';
import { createStore } from 'zustand/vanilla';

export const PICTURES = [
  ['view', 'the view as it is (PNG)'],
  ['lines', 'its lines (SVG)'],
  ['step', 'before ┆ after a step (PNG)'],
] as const;

export const SCALES = ['1', '2', '4'] as const;

export interface PictureState {
  what: (typeof PICTURES)[number][0];
  scale: (typeof SCALES)[number];
  wire: boolean;
  marks: boolean;
  others: boolean;
  ground: boolean;
  /** Lines out of sight are drawn in dashes. */
  hidden: boolean;
}

export const USUAL_PICTURE: PictureState = {
  what: 'view',
  scale: '2',
  wire: true,
  marks: true,
  others: true,
  ground: true,
  hidden: false,
};

export const pictureStore = createStore<PictureState>()(
  persist(() => USUAL_PICTURE, { name: 'picture', merge: (kept) => readable(kept) }),
);

/** What the browser has kept, where it is of the kind that is wanted. */
function readable(kept: unknown): PictureState {
  const found = (kept ?? {}) as Record<string, unknown>;
  const known = Object.entries(USUAL_PICTURE).map(([name, usual]) => {
    const value = found[name];
    const fits = typeof usual === 'boolean' ? typeof value === 'boolean' : OPTIONS[name]?.includes(value as string);
    return [name, fits ? value : usual];
  });
  return Object.fromEntries(known) as PictureState;
}

const OPTIONS: Record<string, readonly string[]> = { what: PICTURES.map(([what]) => what), scale: SCALES };
