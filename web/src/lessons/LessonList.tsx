/** The lessons there are: each is begun, taken up where it was left, or taken once more. */
import { Check } from 'lucide-react';
import { useStore } from 'zustand';
import { LESSONS } from './all';
import type { Lesson } from './lesson';
import { useBegunLessons, useLessons } from './lessonQueries';
import { lessonStore } from './lessonStore';

interface Props {
  /** Runs what would leave the plan, once that is agreed. */
  onLeave?: (run: () => void) => void;
}

export default function LessonList({ onLeave = (run) => run() }: Props) {
  const { data: begun = [] } = useBegunLessons();
  const { take, letGo } = useLessons();
  const taken = useStore(lessonStore, (s) => s.taken);
  const busy = take.isPending || letGo.isPending;
  // A sheet that this stands in may have closed by the time it is let go.
  const anew = async (lesson: Lesson) => {
    const gone = await letGo.mutateAsync(lesson).then(
      () => true,
      () => false,
    );
    if (gone) take.mutate(lesson);
  };
  return (
    <ol className="grid grid-cols-[repeat(auto-fill,minmax(250px,1fr))] gap-3" data-testid="lessons">
      {LESSONS.map((lesson) => {
        const { name, order, title, about } = lesson;
        const half = begun.some((one) => one.lesson === name);
        return (
          <li key={name} data-name={name} className="flex gap-3 rounded border border-rule border-dashed bg-card p-3">
            <span className="w-4 shrink-0 font-display text-lg text-soft leading-6">{order}</span>
            <div className="min-w-0">
              <h3 className="flex items-center gap-1.5 font-semibold">
                {title}
                {taken.includes(name) && <Check size={15} className="shrink-0 text-moss" aria-label="taken" />}
              </h3>
              <p className="mb-1.5 text-[13.5px] text-soft leading-[1.35]">{about}</p>
              <p className="flex gap-3">
                <button
                  type="button"
                  className="stitched min-h-6 font-semibold"
                  disabled={busy}
                  aria-label={`${half ? 'Go on with' : 'Begin'}: ${title}`}
                  onClick={() => onLeave(() => take.mutate(lesson))}
                >
                  {half ? 'Go on' : taken.includes(name) ? 'Once more' : 'Begin'}
                </button>
                {half && (
                  <button
                    type="button"
                    className="stitched min-h-6 text-soft"
                    disabled={busy}
                    aria-label={`Begin anew: ${title}`}
                    onClick={() => onLeave(() => void anew(lesson))}
                  >
                    begin anew
                  </button>
                )}
              </p>
            </div>
          </li>
        );
      })}
    </ol>
  );
}
