/** The table: all parts of the project as they stand, and how they are looked at without being moved. */
import { createStore } from 'zustand/vanilla';
import type { Schemas } from '../api/client';
import type { Place } from '../space/projection';
import { carriedBy, movedBy, type Quaternion, type Standing, standingOf } from '../space/standing';
import { partStore } from './partStore';

export type TablePart = Schemas['TablePartOut'];
export type Placement = Schemas['Placement'];

interface TableState {
  /** The list of parts is open. */
  list: boolean;
  /** The other parts are drawn. */
  others: boolean;
  /** Points settle on vertices of the other parts. */
  settles: boolean;
  parts: TablePart[];
  /** The project, and what is undone and done again next in it: that counts where no part is in hand. */
  project: number | null;
  next: Schemas['NextOut'] | null;
  /** Ticked in the list. */
  ticked: number[];
  /** Where the part in hand is being moved to, before it is let go. */
  moving: Placement | null;
  /** So many times further from their middle parts are drawn apart, to look at. */
  spread: { parts: number[]; by: number } | null;
  /** How parts fall, and the picture that is shown. */
  falling: { parts: number[]; seen: Schemas['FallOut']; frame: number } | null;
}

export const NOTHING_SHOWN = { moving: null, spread: null, falling: null } satisfies Partial<TableState>;

export const tableStore = createStore<TableState>(() => ({
  list: localStorage.getItem('table-list') === 'open',
  others: localStorage.getItem('others') !== 'off',
  settles: false,
  parts: [],
  project: null,
  next: null,
  ticked: [],
  ...NOTHING_SHOWN,
}));

export function toggleOthers(): void {
  tableStore.setState(({ others }) => ({ others: !others }));
  localStorage.setItem('others', tableStore.getState().others ? 'on' : 'off');
}

export function toggleList(): void {
  tableStore.setState(({ list }) => ({ list: !list }));
  localStorage.setItem('table-list', tableStore.getState().list ? 'open' : 'folded');
}

/** Where a part is drawn: where it stands, unless it is only looked at elsewhere. */
export function drawnAt(id: number, { parts, moving, spread, falling }: TableState): Standing {
  const { part } = partStore.getState();
  const own = parts.find((one) => one.id === id);
  const placement = part?.id === id ? (moving ?? part.placement) : (own?.placement ?? {});
  const standing = standingOf(placement);
  if (falling?.parts.includes(id)) {
    const k = falling.parts.indexOf(id);
    const turn = falling.seen.turns[falling.frame]?.[k] as Quaternion | undefined;
    const move = falling.seen.moves[falling.frame]?.[k] as Place | undefined;
    return turn && move ? carriedBy(standing, turn, move) : standing;
  }
  if (!spread?.parts.includes(id) || !own) return standing;
  const chosen = parts.filter((one) => spread.parts.includes(one.id));
  const away = [0, 1, 2].map((k) => {
    const middle = chosen.reduce((sum, one) => sum + (one.middle[k] ?? 0), 0) / chosen.length;
    return spread.by * ((own.middle[k] ?? 0) - middle);
  });
  return movedBy(standing, away as unknown as Place);
}
