/** All lessons, in their order: every file of `taught`. */
import type { Lesson } from './lesson';

const found = import.meta.glob<{ LESSON: Lesson }>('./taught/*.ts', { eager: true });

export const LESSONS: readonly Lesson[] = Object.values(found)
  .map(({ LESSON }) => LESSON)
  .sort((a, b) => a.order - b.order);

export const lessonNamed = (name: string): Lesson | undefined => LESSONS.find((one) => one.name === name);
