import type { ReactNode } from 'react';

/** A titled card of the right column. */
export function Card({
  title,
  aside,
  testId,
  takesTyping = false,
  children,
}: {
  title: string;
  aside?: ReactNode;
  testId: string;
  /** Digits that are typed go into its first number. */
  takesTyping?: boolean;
  children: ReactNode;
}) {
  return (
    <section
      aria-label={title}
      data-testid={testId}
      data-takes-typing={takesTyping}
      className="border-rule border-b border-dashed px-4 py-3 last:border-b-0"
    >
      <header className="mb-2 flex items-baseline justify-between gap-3">
        <h2 className="font-display font-semibold text-[16px]">{title}</h2>
        <span className="truncate text-[13px] text-soft">{aside}</span>
      </header>
      {children}
    </section>
  );
}
