import { holds, type Lesson, made, plannedBy, type Seen } from '../lesson';

const THIRD = 1 / 3;
const isThird = (share: number): boolean => [THIRD, 1 - THIRD].some((third) => Math.abs(share - third) < 1e-6);

const points = (seen: Seen) => plannedBy(seen, 'knife')?.lines.flatMap(({ points }) => points) ?? [];

export const LESSON: Lesson = {
  name: 'first-line',
  order: 1,
  title: 'A first line',
  about: 'Aim, plan, put a point on an exact share, make the cut.',
  part: 'Lantern housing',
  stages: [
    {
      say: 'Take Knife line from the bench at the foot, or press {knife}.',
      done: holds('knife'),
      at: 'bench',
    },
    {
      say: 'Point at the part: the mark says what the next point will sit on, and where along it. Click on the edges at 1 and 2.',
      done: (seen) => points(seen).length >= 2,
      aims: [
        [-7.45, 83.5, 32.66],
        [26.19, 83.5, 20.89],
      ],
    },
    {
      say: 'Nothing is cut yet: stitches show where it will run, and the plan says what it adds. Type 1/3 over the share of a point there, and press Enter.',
      done: (seen) => points(seen).some((point) => 't' in point && isThird(point.t)),
      at: 'plan-items',
    },
    {
      say: '{make} makes the cut. ({discard} would throw the plan away.)',
      done: made('knife'),
      at: 'make-bar',
    },
  ],
  end: 'The line is a step of the part now, with its numbers. {undo} takes it back and {redo} does it again, as often as you like, tomorrow, too.',
};
