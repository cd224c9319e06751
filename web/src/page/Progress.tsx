/** How far long work has come, with a way to stop it. */
import { useStore } from 'zustand';
import { jobStore } from '../stores/jobStore';
import { Button } from '../ui/Button';

export function Progress() {
  const { title, words, share, stopping, stop } = useStore(jobStore);
  if (title === null) return null;
  return (
    <div
      role="status"
      data-testid="progress"
      className="fixed bottom-20 left-1/2 z-30 flex w-[420px] -translate-x-1/2 items-center gap-4 rounded-md border border-rule bg-card p-3 shadow-md"
    >
      <div className="min-w-0 flex-1">
        <p className="flex justify-between gap-3">
          <b className="truncate">{title}</b>
          <span className="shrink-0 text-soft">{stopping ? 'stopping…' : words}</span>
        </p>
        <progress
          aria-label={title}
          className="mt-1 h-1.5 w-full accent-tide"
          {...(share === null ? {} : { value: share, max: 1 })}
        />
      </div>
      <Button disabled={stopping} onClick={stop}>
        Stop
      </Button>
    </div>
  );
}
