/** A named value in the readout. */
import type { ReactNode } from 'react';
import { Tip } from './Tip';

export function Figure({ name, children }: { name: string; children: ReactNode }) {
  return (
    <span className="whitespace-nowrap [&_b]:font-semibold [&_b]:text-ink">
      {name} <span className="ml-1">{children}</span>
    </span>
  );
}

export function Switch({
  name,
  words,
  keys,
  onChange,
}: {
  name: string;
  words: string;
  keys: string;
  onChange: () => void;
}) {
  return (
    <Figure name={name}>
      <Tip words={`Change ${name}`} keys={keys} side="top">
        <button type="button" data-testid={name} onClick={onChange} className="stitched font-semibold text-ink">
          {words}
        </button>
      </Tip>
    </Figure>
  );
}
