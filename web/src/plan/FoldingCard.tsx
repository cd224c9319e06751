/** A card that folds to one line with what matters in it: by hand, and by itself while something is planned. */
import type { ReactNode } from 'react';
import { useStore } from 'zustand';
import { fold, foldStore } from '../stores/foldStore';
import { planStore } from '../stores/planStore';
import { Card } from '../ui/Card';

interface Props {
  title: string;
  testId: string;
  aside?: ReactNode;
  /** What matters in it, where that is not said beside its title anyhow. */
  brief?: ReactNode;
  /** It holds what is planned, and is open for that. */
  planned?: boolean;
  children: ReactNode;
}

export function FoldingCard({ title, testId, aside, brief = aside, planned = false, children }: Props) {
  const planning = useStore(planStore, (s) => s.planned) && !planned;
  const where = planning ? 'planning' : 'apart';
  const open = useStore(foldStore, (s) => planned || (s[where][testId] ?? !planning));
  return (
    <Card
      title={title}
      testId={testId}
      aside={open ? aside : brief}
      open={open}
      {...(planned ? {} : { onFold: (next: boolean) => fold(where, testId, next) })}
    >
      {children}
    </Card>
  );
}
