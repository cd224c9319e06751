/** Every work, found by its folder: the chips, the tray, the commands and the menu of an element read from here. */
import type { Picked } from '../../stores/pickStore';
import { anything } from './picked';
import { GROUPS, type Work } from './work';

const FOUND = import.meta.glob<{ WORK: Work }>('./works/*/index.tsx', { eager: true });

export const WORKS: Work[] = Object.values(FOUND).map(({ WORK }) => WORK);

const BY_NAME = new Map(WORKS.map((work) => [work.name, work]));

export const workNamed = (name: string | null): Work | null => (name === null ? null : (BY_NAME.get(name) ?? null));

/** What is offered beside a pick. */
export const BESIDE = WORKS.filter(({ beside }) => beside !== undefined).sort(
  (one, other) => (one.beside ?? 0) - (other.beside ?? 0),
);

/** The tray of repairs, by what they are for. */
export const TRAY = GROUPS.map((group) => ({
  group,
  works: WORKS.filter(({ tray }) => tray?.[0] === group).sort(
    (one, other) => (one.tray?.[1] ?? 0) - (other.tray?.[1] ?? 0),
  ),
}));

const NONE: Picked = { vertices: [], edges: [], faces: [] };

/** Whether it can be begun with nothing picked. */
export const needsNoPick = ({ fits }: Work): boolean => fits(NONE);

export const offersFor = (pick: Picked): Work[] => (anything(pick) ? BESIDE.filter(({ fits }) => fits(pick)) : []);

/** What of the tray can be begun with a pick, beside what is offered for it anyhow; not what needs none. */
export const mendsFor = (pick: Picked): Work[] =>
  TRAY.flatMap(({ works }) => works).filter(
    (work) => work.beside === undefined && work.fits(pick) && !needsNoPick(work),
  );
