/** What can be chosen; once something is, that alone, and a way back to the others: its plan comes next, in sight. */
import { type ReactNode, useEffect, useState } from 'react';
import { Chip } from '../../ui/Chip';
import { begin } from './reshape';
import type { Work } from './work';

interface Props {
  work: Work | null;
  /** What its chip, and that of the others, is found by. */
  testId: string;
  /** All that can be chosen. */
  children: ReactNode;
}

export function Chosen({ work, testId, children }: Props) {
  const [open, setOpen] = useState(false);
  const name = work?.name;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is chosen folds the others away
  useEffect(() => setOpen(false), [name]);
  if (!work || open) return children;
  return (
    <div className="mb-2 flex flex-wrap gap-1.5">
      <Chip on testId={`${testId}-${work.name}`} onClick={() => begin(work.name)}>
        {work.words}
      </Chip>
      <Chip testId={`${testId}-another`} onClick={() => setOpen(true)}>
        another…
      </Chip>
    </div>
  );
}
