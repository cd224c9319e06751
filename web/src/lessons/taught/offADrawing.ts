import { type Lesson, made, plannedBy } from '../lesson';

const RINGS = 2;

export const LESSON: Lesson = {
  name: 'off-a-drawing',
  order: 5,
  title: 'Heights off a drawing',
  about: 'Read heights off a dimensioned drawing behind the part, and cut exactly there.',
  part: 'Lantern housing',
  stages: [
    {
      say: 'Look from the front ({view-front}), and have the drawing shown: "Drawing" above the part.',
      done: (seen) => seen.view === 'front' && seen.drawing,
      at: 'view-bar',
    },
    {
      say: 'Press "heights" in the card of the drawing, and click beside the part where rings are to be: at 1 and 2.',
      done: (seen) => seen.heights >= RINGS,
      at: 'drawing-card',
      aims: [
        [60, 36, 0],
        [60, 83, 0],
      ],
    },
    {
      say: 'Type 36 over the lower height and 83 over the upper one, if you missed them. Then "Heights to the gauge" hands both over.',
      done: (seen) => plannedBy(seen, 'gauge') !== null,
      at: 'read-heights',
    },
    { say: '{make} cuts both rings, as one step.', done: made('gauge'), at: 'make-bar' },
  ],
  end: 'With widths read off, too, Gauge makes a profile: every ring gets its diameter.',
};
