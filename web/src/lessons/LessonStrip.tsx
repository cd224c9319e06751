/** The lesson that is taken in this project: a strip above the workshop that waits for what is done in it. */
import { useEffect, useRef } from 'react';
import { bringIntoSight } from '../hand/inSight';
import { go } from '../page/route';
import { Button } from '../ui/Button';
import { aimAt } from './aimStore';
import { LESSONS, lessonNamed } from './all';
import type { Lesson } from './lesson';
import { stageAt } from './lesson';
import { useLessons } from './lessonQueries';
import { noteTaken } from './lessonStore';
import { Sentence } from './Sentence';
import { useSeen } from './seen';

const POINTED_OUT_MS = 1600;

interface Props {
  name: string;
  /** Runs what would leave the plan, once that is agreed. */
  onLeave: (run: () => void) => void;
}

export default function LessonStrip({ name, onLeave }: Props) {
  const lesson = lessonNamed(name);
  return lesson ? <Strip lesson={lesson} onLeave={onLeave} /> : null;
}

function Strip({ lesson, onLeave }: { lesson: Lesson; onLeave: Props['onLeave'] }) {
  const { take, letGo } = useLessons();
  const at = useStage(lesson);
  const { stages, title, end } = lesson;
  const stage = stages[at];
  const over = at >= stages.length;
  const next = LESSONS[LESSONS.indexOf(lesson) + 1];
  useEffect(() => {
    if (over) noteTaken(lesson.name);
  }, [over, lesson]);
  useEffect(() => {
    aimAt(stage?.aims ?? []);
    return () => aimAt([]);
  }, [stage]);
  const toProjects = () => go({ screen: 'projects' });
  // What is let go is not in hand any more: it is left first.
  const finish = () => {
    toProjects();
    letGo.mutate(lesson);
  };
  const goOnTo = async (other: Lesson) => {
    const taken = await take.mutateAsync(other).catch(() => null);
    if (taken) letGo.mutate(lesson);
  };
  return (
    <section
      aria-label={`Lesson: ${title}`}
      data-testid="lesson"
      data-name={lesson.name}
      data-stage={at}
      className="flex flex-wrap items-center gap-x-4 gap-y-1 border-thread border-b-2 border-dashed bg-paper px-4 py-2"
    >
      <div className="w-44 shrink-0">
        <p className="truncate font-display font-semibold text-[15px]">{title}</p>
        <Progress at={at} of={stages.length} />
      </div>
      <p aria-live="polite" className="min-w-60 flex-1 leading-5">
        <Sentence words={over ? end : (stage?.say ?? '')} />
      </p>
      <div className="flex shrink-0 items-center gap-1">
        {stage?.at && (
          <Button look="quiet" onClick={() => stage.at && pointOut(stage.at)}>
            Show where
          </Button>
        )}
        {over && next && (
          <Button look="primary" disabled={take.isPending} onClick={() => onLeave(() => void goOnTo(next))}>
            Next: {next.title}
          </Button>
        )}
        {over ? (
          <Button onClick={() => onLeave(finish)}>Done</Button>
        ) : (
          <Button look="quiet" onClick={() => onLeave(toProjects)}>
            Leave
          </Button>
        )}
      </div>
    </section>
  );
}

/** The stage that waits; while it is being found out, the one before. */
function useStage(lesson: Lesson): number {
  const seen = useSeen();
  const last = useRef(0);
  if (seen) last.current = stageAt(lesson, seen);
  return last.current;
}

/** How far it has come, as a seam: what is done is sewn. */
function Progress({ at, of }: { at: number; of: number }) {
  return (
    <p className="flex items-center gap-1" title={`${at} of ${of} done`}>
      {Array.from({ length: of }, (_, k) => (
        <span
          // biome-ignore lint/suspicious/noArrayIndexKey: the stitches of a seam never change places
          key={k}
          className={`h-0 flex-1 border-t-2 ${k < at ? 'border-thread' : k === at ? 'border-thread border-dotted' : 'border-rule'}`}
        />
      ))}
      <span className="ml-1 text-[12.5px] text-soft">
        {at} of {of}
      </span>
    </p>
  );
}

/** Bring a place of the page into sight, and have it framed for a moment. */
function pointOut(name: string): void {
  bringIntoSight(name);
  const found = document.querySelector<HTMLElement>(`[data-testid="${name}"]`);
  found?.classList.add('pointed-out');
  setTimeout(() => found?.classList.remove('pointed-out'), POINTED_OUT_MS);
}
