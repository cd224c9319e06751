/** What can be made of a pick, by its words: the chips, the tray, the commands and the menu of an element read from here. */
import type { Command } from '../../hand/commands';
import { type Picked, picked } from '../../stores/pickStore';
import { begin } from './reshape';
import type { Work } from './reshapeStore';

export interface Offer {
  work: Work;
  words: string;
  /** Whether a pick is enough for it. */
  fits: (pick: Picked) => boolean;
  /** What has to be picked for it. */
  needs: string;
}

const faces = ({ faces }: Picked): boolean => faces.length > 0;
const edges = ({ edges }: Picked): boolean => edges.length > 0;
const vertices = ({ vertices }: Picked): boolean => vertices.length > 0;
const ring = ({ edges, vertices }: Picked): boolean => edges.length + vertices.length > 1;
const anything = (pick: Picked): boolean => faces(pick) || edges(pick) || vertices(pick);
const always = (): boolean => true;

const EXTRUDE: Offer = { work: 'extrude', words: 'extrude', fits: faces, needs: 'faces' };
const INSET: Offer = { work: 'inset', words: 'inset', fits: faces, needs: 'faces' };
const TAKE_OFF: Offer = { work: 'take-off', words: 'take off', fits: anything, needs: 'faces, edges or vertices' };
const SEPARATE: Offer = { work: 'separate', words: 'separate', fits: faces, needs: 'faces' };
const JOIN: Offer = {
  work: 'join',
  words: 'join into one',
  fits: ({ faces }) => faces.length > 1,
  needs: 'two faces or more',
};
const FLIP: Offer = { work: 'flip', words: 'flip', fits: faces, needs: 'faces' };
const DISSOLVE: Offer = {
  work: 'dissolve',
  words: 'dissolve',
  fits: (pick) => edges(pick) || vertices(pick),
  needs: 'edges or vertices',
};
const COLLAPSE: Offer = {
  work: 'collapse',
  words: 'collapse',
  fits: (pick) => edges(pick) || pick.vertices.length > 1,
  needs: 'edges, or two vertices or more',
};
const ROUND: Offer = { work: 'round', words: 'round', fits: ring, needs: 'a ring of edges or vertices' };
const BRIDGE: Offer = {
  work: 'bridge',
  words: 'bridge',
  fits: (pick) => faces(pick) || ring(pick),
  needs: 'two groups of faces, or border edges at both ends',
};
const MOVE: Offer = { work: 'move', words: 'move', fits: anything, needs: 'faces, edges or vertices' };
const SLIDE: Offer = {
  work: 'slide',
  words: 'slide',
  fits: (pick) => edges(pick) || vertices(pick),
  needs: 'edges or vertices',
};
const BEVEL: Offer = {
  work: 'bevel',
  words: 'bevel',
  fits: (pick) => edges(pick) || vertices(pick),
  needs: 'edges or vertices',
};
const RELAX: Offer = { work: 'relax', words: 'relax', fits: anything, needs: 'faces, edges or vertices' };
const QUADS: Offer = { work: 'quads', words: 'turn into quads', fits: always, needs: 'faces, or nothing for all' };

/** What is offered beside a pick. */
const OFFERS: Offer[] = [
  MOVE,
  SLIDE,
  EXTRUDE,
  INSET,
  BEVEL,
  TAKE_OFF,
  SEPARATE,
  JOIN,
  FLIP,
  DISSOLVE,
  COLLAPSE,
  ROUND,
  BRIDGE,
  RELAX,
];

/** The tray of repairs, by what they are for. */
export const TRAY: { group: string; offers: Offer[] }[] = [
  {
    group: 'quads and triangles',
    offers: [
      QUADS,
      { work: 'join-triangles', words: 'join triangles', fits: always, needs: 'faces, or nothing for all' },
      { work: 'triangulate', words: 'triangulate', fits: always, needs: 'faces, or nothing for all' },
      { work: 'divide', words: 'split evenly', fits: always, needs: 'faces, or nothing for all' },
      { work: 'circle', words: 'circle in a face', fits: ({ faces }) => faces.length === 1, needs: 'one face' },
    ],
  },
  {
    group: 'bring together',
    offers: [
      COLLAPSE,
      { work: 'weld', words: 'weld near ones', fits: always, needs: 'vertices, or nothing for all' },
      {
        work: 'weld-onto',
        words: 'weld onto',
        fits: ({ vertices }) => vertices.length === 2,
        needs: 'two vertices, the one that stays last',
      },
      BRIDGE,
      { work: 'fill', words: 'fill a border', fits: always, needs: 'an edge of the border, or nothing for all' },
    ],
  },
  {
    group: 'take away or open',
    offers: [
      DISSOLVE,
      JOIN,
      TAKE_OFF,
      {
        work: 'split-apart',
        words: 'split apart',
        fits: (pick) => edges(pick) || vertices(pick),
        needs: 'edges or vertices',
      },
      { work: 'strays', words: 'stray vertices', fits: always, needs: 'vertices, or nothing for all' },
      { work: 'clean', words: 'clean a patch', fits: faces, needs: 'faces' },
    ],
  },
  {
    group: 'the whole part',
    offers: [
      { work: 'shards', words: 'shards', fits: always, needs: 'nothing' },
      { work: 'each-body', words: 'each body a part', fits: always, needs: 'faces, or nothing for all' },
      { work: 'thicken', words: 'thicken', fits: always, needs: 'nothing' },
      { work: 'subdivide', words: 'subdivide', fits: always, needs: 'nothing' },
    ],
  },
  {
    group: 'put in shape',
    offers: [
      {
        work: 'flatten',
        words: 'make flat',
        fits: (pick) => faces(pick) || pick.vertices.length > 2,
        needs: 'faces, or three vertices or more',
      },
      { work: 'line-up', words: 'line up', fits: ({ edges }) => edges.length > 1, needs: 'a chain of edges' },
      ROUND,
      FLIP,
      { work: 'hard', words: 'hard or soft', fits: edges, needs: 'edges' },
      { work: 'hard-by-angle', words: 'hard by angle', fits: always, needs: 'nothing' },
      { work: 'facing', words: 'make facing agree', fits: always, needs: 'nothing' },
    ],
  },
];

const IN_TRAY = TRAY.flatMap(({ offers }) => offers);
const EVERY = [...OFFERS, ...IN_TRAY.filter(({ work }) => OFFERS.every((offer) => offer.work !== work))];

export const offersFor = (pick: Picked): Offer[] => (anything(pick) ? OFFERS.filter(({ fits }) => fits(pick)) : []);

/** What of the tray can be begun with a pick, beside what is offered for it anyhow; not what needs none. */
export const mendsFor = (pick: Picked): Offer[] =>
  IN_TRAY.filter(({ work, fits }) => OFFERS.every((offer) => offer.work !== work) && fits(pick) && !fits(NONE));

const NONE: Picked = { vertices: [], edges: [], faces: [] };

export const WORKS: Command[] = EVERY.map(({ work, words, fits }) => ({
  id: `work-${work}`,
  words: fits(NONE) ? `Mend: ${words}` : `What is picked: ${words}`,
  keys: work === 'take-off' ? ['Delete'] : [],
  when: () => fits(picked()),
  run: () => begin(work, IN_TRAY.some((offer) => offer.work === work) && !OFFERS.some((offer) => offer.work === work)),
}));
