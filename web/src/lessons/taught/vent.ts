import { holds, type Lesson, made, plannedBy } from '../lesson';

export const LESSON: Lesson = {
  name: 'vent',
  order: 4,
  title: 'An outline that becomes a vent',
  about: 'Project a drawn shape onto the part, then work on what lies inside.',
  part: 'Lantern housing',
  stages: [
    {
      say: 'Look from the front: {view-front}.',
      done: (seen) => seen.view === 'front',
      at: 'view-bar',
    },
    { say: 'Take Outline: {outline}.', done: holds('outline'), at: 'bench' },
    {
      say: 'Choose the Vent slot among the outlines in the plan, and click on the part at 1: it stands there on a sheet, and is projected onto the faces behind.',
      done: (seen) => plannedBy(seen, 'outline') !== null,
      at: 'outlines-in-hand',
      aims: [[0, 36, 36.5]],
    },
    {
      say: 'Drag its handles, or type its numbers, until it sits well. {make} cuts it in.',
      done: made('outline'),
      at: 'make-bar',
    },
    {
      say: 'What lies inside is picked. Choose "extrude" under "Work on it", and type −3 over the distance: the slot is pressed in. {make} makes it.',
      done: made('extrude'),
      at: 'work-extrude',
    },
  ],
  end: 'The faces inside have the name of the outline: Patches finds and picks them again. "delete faces" would have left an opening.',
};
