/** A named value in the readout. */
import { memo, type ReactNode } from 'react';
import { useSteady } from './steady';
import { Tip } from './Tip';

export function Figure({ name, children }: { name: string; children: ReactNode }) {
  return (
    <span data-row="" className="whitespace-nowrap [&_b]:font-semibold [&_b]:text-ink">
      <span data-row-name>{name}</span> <span className="ml-1">{children}</span>
    </span>
  );
}

interface SwitchProps {
  name: string;
  words: string;
  keys: string;
  onChange: () => void;
}

/** A named value that is changed by a click. */
export function Switch({ onChange, ...shown }: SwitchProps) {
  return <SwitchAsIs {...shown} onChange={useSteady(onChange)} />;
}

const SwitchAsIs = memo(function SwitchAsIs({ name, words, keys, onChange }: SwitchProps) {
  return (
    <Figure name={name}>
      <Tip words={`Change ${name}`} keys={keys} side="top">
        <button type="button" data-testid={name} onClick={onChange} className="stitched font-semibold text-ink">
          {words}
        </button>
      </Tip>
    </Figure>
  );
});
