/** What can be made of a pick, by its words: the chips, the commands and the menu of an element read from here. */
import type { Command } from '../../hand/commands';
import { type Picked, picked } from '../../stores/pickStore';
import { begin } from './reshape';
import type { Work } from './reshapeStore';

interface Offer {
  work: Work;
  words: string;
  /** Whether a pick is enough for it. */
  fits: (pick: Picked) => boolean;
}

const faces = ({ faces }: Picked): boolean => faces.length > 0;
const edges = ({ edges }: Picked): boolean => edges.length > 0;
const ring = ({ edges, vertices }: Picked): boolean => edges.length + vertices.length > 1;

const OFFERS: Offer[] = [
  { work: 'extrude', words: 'extrude', fits: faces },
  { work: 'inset', words: 'inset', fits: faces },
  { work: 'take-off', words: 'take off', fits: faces },
  { work: 'separate', words: 'separate', fits: faces },
  { work: 'join', words: 'join into one', fits: ({ faces }) => faces.length > 1 },
  { work: 'flip', words: 'flip', fits: faces },
  { work: 'dissolve', words: 'dissolve', fits: edges },
  { work: 'collapse', words: 'collapse', fits: (pick) => edges(pick) || pick.vertices.length > 1 },
  { work: 'round', words: 'round', fits: ring },
  { work: 'bridge', words: 'bridge', fits: (pick) => faces(pick) || ring(pick) },
];

export const offersFor = (pick: Picked): Offer[] => OFFERS.filter(({ fits }) => fits(pick));

export const WORKS: Command[] = OFFERS.map(({ work, words, fits }) => ({
  id: `work-${work}`,
  words: `What is picked: ${words}`,
  keys: [],
  when: () => fits(picked()),
  run: () => begin(work),
}));
