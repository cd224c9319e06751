import { holds, type Lesson, made, plannedBy } from '../lesson';

export const LESSON: Lesson = {
  name: 'halve-and-mirror',
  order: 3,
  title: 'A slice that halves and mirrors',
  about: 'Cut one side away and have the other take its place.',
  part: 'Float hull',
  stages: [
    { say: 'Take Slice: {slice}.', done: holds('slice'), at: 'bench' },
    {
      say: 'Drawn across the view, a line gives the plane. Here it is to be exact: choose "square to x" beside "by".',
      done: (seen) => plannedBy(seen, 'slice')?.plane != null,
      at: 'plane-by',
    },
    {
      say: 'Beside "then" choose "halve, and mirror the rest". The cross-hatched side goes; "Take the other" turns that round.',
      done: (seen) => plannedBy(seen, 'slice')?.then === 'halve',
      at: 'then',
    },
    {
      say: 'Type 4 over "at x": the hull gets broader, since the mirror stands off its middle. {make} makes it.',
      done: made('slice', ({ then }) => then === 'halve'),
      at: 'plane-offset',
    },
  ],
  end: 'Both sides are alike, and closed where they meet. With "Mirror" among the settings of any tool, a cut goes onto both sides at once.',
};
