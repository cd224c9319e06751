/** A card that breaks says so in its own place: what is planned, and the others, go on. */
import type { ReactNode } from 'react';
import { Boundary } from './Boundary';

export function OwnTrouble({ name, children }: { name: string; children: ReactNode }) {
  return (
    <Boundary
      broken={(again) => (
        <section
          role="alert"
          data-testid="broken-card"
          className="border-rule border-b border-dashed px-4 py-2 text-[13.5px]"
        >
          <b className="font-display">{name}</b> can't be shown just now. What is planned and made is kept.
          <button type="button" className="ml-2 underline" onClick={again}>
            Try again
          </button>
        </section>
      )}
    >
      {children}
    </Boundary>
  );
}
