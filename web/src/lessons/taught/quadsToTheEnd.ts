import { holds, type Lesson, made, plannedBy } from '../lesson';

export const LESSON: Lesson = {
  name: 'quads-to-the-end',
  order: 6,
  title: 'Quads to the end',
  about: 'An oblique cut through quads, without the triangles and n-gons it would leave.',
  part: 'Lantern housing',
  stages: [
    { say: 'Take Slice: {slice}.', done: holds('slice'), at: 'bench' },
    {
      say: 'Choose "square to y" beside "by", and type 14 over "tilt about z": an oblique cut.',
      done: (seen) => Math.abs(plannedBy(seen, 'slice')?.plane?.normal?.[1] ?? 1) < 0.999,
      at: 'plane-by',
    },
    {
      say: 'The plan says before → after: n-gons and triangles come in. Choose "woven" beside "flow after": the grid bends to the cut, and stays quads.',
      done: (seen) => plannedBy(seen, 'slice')?.finish === 'woven',
      at: 'finish',
    },
    {
      say: '"Compare the ways" puts it beside the others, if you like. {make} makes it.',
      done: made('slice', ({ finish }) => finish === 'woven'),
      at: 'make-bar',
    },
  ],
  end: '"all quads" keeps the surface, for more quads; "woven" has fewer and better ones, and says how far the surface moves.',
};
