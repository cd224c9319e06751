import type { ReactNode } from 'react';

interface Props {
  /** Whether what it stands for is chosen; not given for one that only does something. */
  on?: boolean;
  disabled?: boolean;
  testId?: string;
  onClick: () => void;
  children: ReactNode;
}

/** A small button among others of its kind. */
export function Chip({ on, disabled = false, testId, onClick, children }: Props) {
  return (
    <button
      type="button"
      aria-pressed={on}
      disabled={disabled}
      data-testid={testId}
      onClick={onClick}
      className={`rounded border px-2 py-0.5 text-[13.5px] hover:border-soft disabled:opacity-50 ${on ? 'border-tide bg-tide text-on-tide' : 'border-rule'}`}
    >
      {children}
    </button>
  );
}
