import { holds, type Lesson, made, plannedBy } from '../lesson';

const COUNT = 5;

export const LESSON: Lesson = {
  name: 'shards',
  order: 7,
  title: 'Shards',
  about: 'Break a part into closed pieces, and have it whole again.',
  part: 'Lantern housing',
  stages: [
    { say: 'Take Mend: {mend}.', done: holds('mend'), at: 'bench' },
    {
      say: 'Choose "shards" in its tray. The part is drawn broken; nothing is changed yet.',
      done: (seen) => plannedBy(seen, 'shards') !== null,
      at: 'mend-shards',
    },
    {
      say: `Let there be ${COUNT} of them: type ${COUNT} over their number. Another seed breaks it otherwise.`,
      done: (seen) => {
        const by = plannedBy(seen, 'shards')?.by;
        return by !== undefined && 'count' in by && by.count === COUNT;
      },
      at: 'shards-count',
    },
    { say: '{make} makes them: parts of their own, each closed.', done: made('shards'), at: 'make-bar' },
  ],
  end: 'In the list of parts ({table}) tick the shards and draw them apart with "spread". {undo} makes them one part again.',
};
