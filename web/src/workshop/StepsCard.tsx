import { useStore } from 'zustand';
import { FoldingCard } from '../plan/FoldingCard';
import { goBackTo } from '../projects/undoing';
import { partStore } from '../stores/partStore';
import { formatChange } from '../ui/numbers';

/** The made cuts, the newest first; undone ones stay, paler, until another cut is made. */
export function StepsCard() {
  const steps = useStore(partStore, (s) => s.part?.steps);
  if (!steps) return null;
  const applied = steps.filter((step) => step.applied);
  const latest = applied.at(-1)?.number;
  return (
    <FoldingCard title="Steps" aside={String(applied.length)} testId="steps">
      {steps.length === 0 && <p className="text-soft">Cuts you make are listed here. Each can be undone.</p>}
      <ol reversed>
        {[...steps].reverse().map((step) => (
          <li
            key={step.number}
            data-applied={step.applied}
            className={`flex h-[25px] items-center justify-between ${step.number === latest ? 'font-semibold' : 'text-soft'} ${step.applied ? '' : 'italic'}`}
          >
            <button
              type="button"
              title={step.applied ? `Go back to after ${step.title}` : `Go on to after ${step.title}`}
              className="min-w-0 truncate text-left hover:underline"
              onClick={() => void goBackTo(step.number)}
            >
              {step.number}. {step.title}
              {!step.applied && ' · undone'}
            </button>
            <span className="shrink-0">{formatChange(step.quads)} quads</span>
          </li>
        ))}
      </ol>
    </FoldingCard>
  );
}
