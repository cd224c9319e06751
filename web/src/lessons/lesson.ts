/** A lesson: a few sentences beside the real workshop, each waiting for what is really done there. */
import type { Schemas, Step } from '../api/client';
import type { Place } from '../space/projection';
import type { Look, ViewName } from '../stores/viewStore';

/** What a lesson sees of the workshop: what is planned and made, not what was clicked. */
export interface Seen {
  tool: string;
  /** The step that is planned and answered, and what the service says of it. */
  planned: Step | null;
  plan: Schemas['PlanOut'] | null;
  /** The steps of the part, without those undone. */
  made: readonly Step[];
  view: ViewName;
  look: Look;
  /** The drawing is shown; so many heights were read off it. */
  drawing: boolean;
  heights: number;
}

export interface Stage {
  /** What to do, in a sentence or three. `{id}` stands for the key of a command. */
  say: string;
  /** Whether it is done, seen from how things are now: what is undone is to be done again. */
  done: (seen: Seen) => boolean;
  /** Where on the page it is done. */
  at?: string;
  /** Where on the part it is done, in the part's own lengths. */
  aims?: readonly Place[];
}

export interface Lesson {
  name: Schemas['BegunLessonOut']['lesson'];
  /** Its place among the lessons. */
  order: number;
  title: string;
  about: string;
  /** The part it is taken on. */
  part: string;
  stages: readonly Stage[];
  /** What is said when all is done. */
  end: string;
}

/**
 * The first stage that is still to be done: the one after the last that is. Nothing is remembered, so that a lesson that was
 * left, or in which something was undone, goes on where things are.
 */
export const stageAt = ({ stages }: Lesson, seen: Seen): number => stages.findLastIndex(({ done }) => done(seen)) + 1;

type Named<Tool extends string> = Extract<Step, { tool: Tool }>;

/** What is planned, if it is a step of that tool. */
export function plannedBy<Tool extends Step['tool']>({ planned }: Seen, tool: Tool): Named<Tool> | null {
  return planned?.tool === tool ? (planned as Named<Tool>) : null;
}

export const holds = (tool: string) => (seen: Seen) => seen.tool === tool;

/** Such a step was made. */
export const made =
  <Tool extends Step['tool']>(tool: Tool, so: (step: Named<Tool>) => boolean = () => true) =>
  (seen: Seen) =>
    seen.made.some((step) => step.tool === tool && so(step as Named<Tool>));
