import type { Kind } from './kinds';
import { TypeOver } from './TypeOver';

interface Props {
  label: string;
  value: number;
  kind: Kind;
  onSettle: (value: number) => void;
  testId?: string;
  narrow?: boolean;
}

/** A number that can be typed over, or moved by the arrow keys. */
export function NumberField({ label, value, kind, onSettle, testId, narrow = false }: Props) {
  const { format, parse, expected, step } = kind;
  const take = (text: string): boolean => {
    const next = parse(text);
    if (next !== null && !Object.is(next, value)) onSettle(next);
    return next !== null;
  };
  return (
    <TypeOver
      label={label}
      shown={format(value)}
      take={take}
      expected={expected}
      onArrow={(direction) => {
        const next = parse(format(value + direction * step));
        if (next !== null) onSettle(next);
      }}
      testId={testId}
      className={narrow ? 'w-[52px]' : 'w-[74px]'}
    />
  );
}
