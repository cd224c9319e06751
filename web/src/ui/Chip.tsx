import type { ReactNode } from 'react';
import { Tip } from './Tip';

interface Props {
  /** Whether what it stands for is chosen; not given for one that only does something. */
  on?: boolean;
  disabled?: boolean;
  /** Something else comes first, to which it leads. */
  faint?: boolean;
  testId?: string;
  /** What it does, in a sentence, and its key. */
  tip?: string;
  keys?: string;
  /** It is pointed at or has the keyboard, or has not any more. */
  onLook?: (at: boolean) => void;
  onClick: () => void;
  children: ReactNode;
}

/** A small button among others of its kind. */
export function Chip({ on, disabled = false, faint = false, testId, tip, keys, onLook, onClick, children }: Props) {
  const chip = (
    <button
      type="button"
      aria-pressed={on}
      disabled={disabled}
      data-testid={testId}
      data-faint={faint || undefined}
      onClick={onClick}
      onPointerEnter={() => onLook?.(true)}
      onPointerLeave={() => onLook?.(false)}
      onFocus={() => onLook?.(true)}
      onBlur={() => onLook?.(false)}
      className={`rounded border px-2 py-0.5 text-[13.5px] hover:border-soft disabled:opacity-50 data-faint:border-dashed data-faint:text-soft ${on ? 'border-tide bg-tide text-on-tide' : 'border-rule'}`}
    >
      {children}
    </button>
  );
  if (!tip) return chip;
  return (
    <Tip words={tip} keys={keys}>
      {chip}
    </Tip>
  );
}
