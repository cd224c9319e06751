import { type Lesson, made, plannedBy } from '../lesson';

const NEAR = 0.12;

export const LESSON: Lesson = {
  name: 'held-form',
  order: 8,
  title: 'A form held when it is smooth',
  about: 'A loop close to an edge keeps it crisp in the smooth form; see it before you make it.',
  part: 'Deck plate',
  stages: [
    {
      say: 'See the plate as its smooth form: {look-smooth}. Its rim has gone round.',
      done: (seen) => seen.look === 'smooth',
      at: 'view-bar',
    },
    {
      say: 'Take Edge loop ({loop}) and click on the bevel at 1.',
      done: (seen) => plannedBy(seen, 'loop') !== null,
      aims: [[33.3, 6.5, 80.4]],
    },
    {
      say: 'Drag the line across the picture: the form before it, and after. Type 8% over the place, and the rim of the top gets crisper; 92% holds the lower edge instead.',
      done: (seen) => {
        const [at] = plannedBy(seen, 'loop')?.at ?? [];
        return at !== undefined && Math.min(at, 1 - at) <= NEAR;
      },
      at: 'loop-at',
    },
    { say: '{make} makes it.', done: made('loop'), at: 'make-bar' },
  ],
  end: 'Where no loop is wanted, edges can be made hard, or creases of a strength, in the tray of Mend: they hold the form, too.',
};
