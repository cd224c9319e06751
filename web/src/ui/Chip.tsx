import type { ReactNode } from 'react';

interface Props {
  /** Whether what it stands for is chosen; not given for one that only does something. */
  on?: boolean;
  disabled?: boolean;
  testId?: string;
  /** It is pointed at or has the keyboard, or has not any more. */
  onLook?: (at: boolean) => void;
  onClick: () => void;
  children: ReactNode;
}

/** A small button among others of its kind. */
export function Chip({ on, disabled = false, testId, onLook, onClick, children }: Props) {
  return (
    <button
      type="button"
      aria-pressed={on}
      disabled={disabled}
      data-testid={testId}
      onClick={onClick}
      onPointerEnter={() => onLook?.(true)}
      onPointerLeave={() => onLook?.(false)}
      onFocus={() => onLook?.(true)}
      onBlur={() => onLook?.(false)}
      className={`rounded border px-2 py-0.5 text-[13.5px] hover:border-soft disabled:opacity-50 ${on ? 'border-tide bg-tide text-on-tide' : 'border-rule'}`}
    >
      {children}
    </button>
  );
}
