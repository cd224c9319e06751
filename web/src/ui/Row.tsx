import type { ReactNode } from 'react';

/** A named line of a card. */
export function Row({ name, children }: { name: string; children: ReactNode }) {
  return (
    <p data-row="" className="flex justify-between gap-3 leading-7">
      <span data-row-name className="shrink-0 text-soft">
        {name}
      </span>
      <span className="truncate [&_input]:text-right">{children}</span>
    </p>
  );
}
