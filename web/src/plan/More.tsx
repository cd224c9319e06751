/** Settings of a tool that are seldom changed, put away until they are asked for; the browser keeps whether they are out. */
import type { ReactNode } from 'react';
import { useStore } from 'zustand';
import { fold, foldStore } from '../stores/foldStore';

export function More({ tool, children }: { tool: string; children: ReactNode }) {
  const out = useStore(foldStore, (s) => s.more[tool] ?? false);
  return (
    <div className="my-1 border-rule border-t pt-0.5">
      <button
        type="button"
        aria-expanded={out}
        data-testid="more"
        className="min-h-7 w-full text-left text-[13.5px] text-soft underline hover:text-ink"
        onClick={() => fold('more', tool, !out)}
      >
        {out ? 'fewer settings' : 'more settings'}
      </button>
      {out && children}
    </div>
  );
}
