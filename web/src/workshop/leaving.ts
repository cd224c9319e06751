/** What a person wants to do that would throw an open plan away is asked about first. */
import { useEffect, useState } from 'react';
import { clearOtherPlans, discard, isAnythingPlanned, isLostWithThePage } from '../hand/planning';
import { go, holdNavigation } from '../page/route';
import { partStore } from '../stores/partStore';

interface Leaving {
  /** Do it, once it was said what becomes of the plan. */
  leave: (run: () => void) => void;
  asked: boolean;
  onStay: () => void;
  onLeave: () => void;
}

export function useLeaving(): Leaving {
  const [leaving, setLeaving] = useState<(() => void) | null>(null);
  useEffect(
    () =>
      holdNavigation((to) => {
        if (!isAnythingPlanned()) return false;
        setLeaving(() => () => go(to));
        return true;
      }),
    [],
  );
  useEffect(() => {
    const ask = (event: BeforeUnloadEvent) => {
      if (isLostWithThePage()) event.preventDefault();
    };
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, []);
  return {
    leave(run) {
      // A cut that is being made is no plan any more.
      if (isAnythingPlanned() && !partStore.getState().busy) setLeaving(() => run);
      else run();
    },
    asked: leaving !== null,
    onStay: () => setLeaving(null),
    onLeave() {
      discard();
      clearOtherPlans();
      leaving?.();
      setLeaving(null);
    },
  };
}
