import type { ReactNode } from 'react';

interface Props {
  title: string;
  aside?: ReactNode;
  testId: string;
  /** Digits that are typed go into its first number. */
  takesTyping?: boolean;
  /** Whether it is open, and what folds or opens it; not given for one that is always open. */
  open?: boolean;
  onFold?: (open: boolean) => void;
  children: ReactNode;
}

/** A titled card of the right column. */
export function Card({ title, aside, testId, takesTyping = false, open = true, onFold, children }: Props) {
  return (
    <section
      aria-label={title}
      data-testid={testId}
      data-takes-typing={takesTyping}
      className={`border-rule border-b border-dashed px-4 last:border-b-0 ${open ? 'py-3' : 'py-1'}`}
    >
      <header className={`flex items-baseline justify-between gap-3 ${open ? 'mb-2' : ''}`}>
        <h2 className="font-display font-semibold text-[16px]">
          {onFold ? (
            <button
              type="button"
              aria-label={`${title} card`}
              aria-expanded={open}
              data-testid={`fold-${testId}`}
              className="flex min-h-6 items-baseline gap-1.5"
              onClick={() => onFold(!open)}
            >
              {title}
              <Notch open={open} />
            </button>
          ) : (
            title
          )}
        </h2>
        <span className="truncate text-[13px] text-soft tabular-nums">{aside}</span>
      </header>
      {open && children}
    </section>
  );
}

/** The corner of a leaf: turned down where there is more beneath. */
const Notch = ({ open }: { open: boolean }) => (
  <svg viewBox="0 0 10 10" className="h-2.5 w-2.5 self-center text-soft" aria-hidden="true">
    <path d={open ? 'M1 5h8' : 'M1 3h8l-4 5z'} fill="none" stroke="currentColor" strokeWidth="1.4" />
  </svg>
);
