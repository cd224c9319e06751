/** What can be chosen; once something is, that alone, and a way back to the others: its plan comes next, in sight. */
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { Chip } from '../../ui/Chip';
import { walkedByKeyboard } from '../../ui/modality';
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
  const folded = work !== null && !open;
  const box = useRef<HTMLDivElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the chip that had the keyboard is gone with the others
  useEffect(() => {
    if (walkedByKeyboard() && document.activeElement === document.body)
      box.current?.querySelector<HTMLElement>('[aria-pressed=true]')?.focus();
  }, [folded, name]);
  if (!folded) return <div ref={box}>{children}</div>;
  return (
    <div ref={box} className="mb-2 flex flex-wrap gap-1.5">
      <Chip on testId={`${testId}-${work.name}`} onClick={() => begin(work.name)}>
        {work.words}
      </Chip>
      <Chip testId={`${testId}-another`} onClick={() => setOpen(true)}>
        another…
      </Chip>
    </div>
  );
}
