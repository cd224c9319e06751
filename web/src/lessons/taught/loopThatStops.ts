import { holds, type Lesson, made, plannedBy } from '../lesson';

export const LESSON: Lesson = {
  name: 'loop-that-stops',
  order: 2,
  title: 'A loop that stops, and why',
  about: 'See a whole edge loop before you click, where it ends, and for what reason.',
  part: 'Deck plate',
  stages: [
    { say: 'Take Edge loop: {loop}.', done: holds('loop'), at: 'bench' },
    {
      say: 'Point at the rim at 1. The whole loop is stitched round the part before anything is clicked; where it stops, a sign says why. Click.',
      done: (seen) =>
        plannedBy(seen, 'loop') !== null && (seen.plan?.extra?.of === 'loop' ? seen.plan.extra.ends : []).length > 0,
      aims: [[27.4, 8, 66.2]],
    },
    {
      say: 'It stops at the top, which is one face with eight sides: a loop goes on through quads only. "Go on through it" in the plan leads it across, to the edge that lies opposite.',
      done: (seen) => (plannedBy(seen, 'loop')?.through ?? []).length > 0,
      at: 'loop-ends',
    },
    { say: '{make} makes it.', done: made('loop'), at: 'make-bar' },
  ],
  end: 'Other places where it stops are told the same way: a triangle, a boundary, a place where it meets itself. "Show" leads there.',
};
