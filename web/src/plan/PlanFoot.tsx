/** The foot of a plan: what it adds, what there is to say, and the way to make or discard it. */
import { useEffect } from 'react';
import { useStore } from 'zustand';
import { canMake, discard, make } from '../hand/planning';
import { toolInHand } from '../hand/tool';
import { partStore } from '../stores/partStore';
import { planStore } from '../stores/planStore';
import { Button } from '../ui/Button';
import { useLate } from '../ui/late';
import { walkedByKeyboard } from '../ui/modality';
import { countOf } from '../ui/numbers';
import { stageOf } from '../viewport/stageOf';
import { Remark, together } from './Remark';

interface Props {
  words: string;
  /** The plan is not far enough to be refused. */
  unfinished?: boolean;
}

export function PlanFoot({ words, unfinished = false }: Props) {
  const busy = useStore(partStore, (s) => s.busy);
  const plan = useStore(planStore, (s) => s.plan);
  const trouble = useStore(planStore, (s) => s.trouble);
  const late = useLate(useStore(planStore, (s) => s.working));
  useEffect(
    () => () => {
      // Who made or discarded it by its button, without a pointer, goes on at the part.
      requestAnimationFrame(() => {
        if (walkedByKeyboard() && document.activeElement === document.body) stageOf.current?.focus();
      });
    },
    [],
  );
  const said = plan ? (toolInHand().saysItself?.(plan) ?? []) : [];
  return (
    <>
      {late && (
        <p role="status" data-testid="working" className="text-[13.5px]">
          being worked out …
        </p>
      )}
      {plan && (
        <>
          <p
            className={`flex justify-between text-[13.5px] text-soft ${late ? 'opacity-40' : ''}`}
            data-testid="plan-adds"
          >
            <span>
              {countOf(plan.new_vertices, 'new vertex', 'new vertices')} · {countOf(plan.new_edges, 'new edge')}
            </span>
            <span>{countOf(together(plan.notes).length, 'note')}</span>
          </p>
          {plan.refusal && !unfinished && <Remark note={plan.refusal} stops />}
          {together(plan.notes)
            .filter((note) => !said.includes(note.words))
            .map((note) => (
              <Remark key={note.code + note.words} note={note} />
            ))}
        </>
      )}
      {trouble && (
        <p role="alert" data-testid="trouble" className="mt-2 rounded border border-ochre px-2.5 py-1.5 text-[13.5px]">
          {trouble}
        </p>
      )}
      {/* In a long plan it stays in reach at the foot of the column. */}
      <div className="sticky bottom-0 z-[5] -mx-4 -mb-3 flex gap-2 bg-card px-4 py-3">
        <Button look="primary" className="flex-1" disabled={!canMake() || busy} onClick={() => void make()}>
          {words}{' '}
          <span className="ml-auto" aria-hidden>
            ↵
          </span>
        </Button>
        <Button onClick={discard}>Discard</Button>
      </div>
    </>
  );
}
