/** The foot of the column: makes or discards what is planned, always in the same place and in sight. */
import { useEffect } from 'react';
import { useStore } from 'zustand';
import { canMake, discard, make } from '../hand/planning';
import { partStore } from '../stores/partStore';
import { planStore } from '../stores/planStore';
import { toolStore } from '../stores/toolStore';
import { Button } from '../ui/Button';
import { walkedByKeyboard } from '../ui/modality';
import { stageOf } from '../viewport/stageOf';

export function MakeBar() {
  const planned = useStore(planStore, (s) => s.planned);
  return planned ? <Bar /> : null;
}

function Bar() {
  const busy = useStore(partStore, (s) => s.busy);
  const cuts = useStore(toolStore, (s) => s.tool !== 'pick' && s.tool !== 'mend');
  // Whether it can be made changes with the plan.
  useStore(planStore, (s) => s.plan);
  useStore(planStore, (s) => s.trouble);
  useEffect(
    () => () => {
      // Who made or discarded it by its button, without a pointer, goes on at the part.
      requestAnimationFrame(() => {
        if (walkedByKeyboard() && document.activeElement === document.body) stageOf.current?.focus();
      });
    },
    [],
  );
  return (
    <div data-testid="make-bar" className="flex shrink-0 gap-2 border-rule border-t bg-card px-4 py-2.5">
      <Button look="primary" className="flex-1" disabled={!canMake() || busy} onClick={() => void make()}>
        {cuts ? 'Make the cut' : 'Make it so'}{' '}
        <span className="ml-auto" aria-hidden>
          ↵
        </span>
      </Button>
      <Button onClick={discard}>Discard</Button>
    </div>
  );
}
