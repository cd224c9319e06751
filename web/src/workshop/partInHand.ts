/** The part on the table follows the address; what was planned follows the part, or is put away. */
import { useEffect } from 'react';
import { useStore } from 'zustand';
import { Refusal } from '../api/client';
import { clearOtherPlans, discard, planAgain } from '../hand/planning';
import { go } from '../page/route';
import { useProjectsChanged } from '../projects/projectQueries';
import { openPart, partStore } from '../stores/partStore';
import { toast } from '../stores/toastStore';
import { unitStore } from '../ui/lengths';

/** Have a part in hand, or none. */
export function usePartInHand(shown: number | null): void {
  const revision = useStore(partStore, (s) => s.part?.revision);
  const changed = useProjectsChanged();

  useEffect(() => {
    discard();
    clearOtherPlans();
    if (shown !== null) void openPart(shown);
    else partStore.setState({ part: null, gone: false });
  }, [shown]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: the plan is asked for anew whenever the part has changed
  useEffect(() => {
    const dropped = clearOtherPlans();
    if (dropped.length > 0)
      toast({
        title: `The plan of ${dropped.join(' and ')} was put away`,
        words: 'It was meant for the part as it was before.',
      });
    planAgain();
    // A step may have left parts beside this one, or taken them back.
    if (revision !== undefined) changed();
  }, [revision]);
}

/** Lengths have as many digits as suit the part. */
partStore.subscribe(({ part }) => {
  if (!part) return;
  const size = Math.hypot(...part.high.map((most, k) => most - (part.low[k] ?? 0)));
  // What is cut does not change how numbers are written.
  if (size > 0 && Math.floor(Math.log10(size)) !== Math.floor(Math.log10(unitStore.getState().size)))
    unitStore.setState({ size });
});

export const isNotThere = (error: unknown): boolean => error instanceof Refusal && error.code === 'not-there';

/** Back to the projects once the part, or its project, is not there any more. */
export function useGone(error: Error | null): void {
  const gone = useStore(partStore, (s) => s.gone);
  const changed = useProjectsChanged();
  useEffect(() => {
    const away = isNotThere(error);
    if (!gone && !away) return;
    toast({
      title: away ? 'This project was deleted' : 'This part was deleted',
      words: 'You are back at the projects.',
      tone: 'warning',
    });
    partStore.setState({ gone: false, part: null });
    discard();
    changed();
    go({ screen: 'projects' }, { replace: true });
  }, [gone, error, changed]);
}
