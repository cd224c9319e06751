import { TypeOver } from './TypeOver';

interface Props {
  label: string;
  value: number;
  format: (value: number) => string;
  /** The value of a typed text, or null if it is none. */
  parse: (text: string) => number | null;
  /** Said in place when the text is no value. */
  expected: string;
  /** How far an arrow key moves the value. */
  step: number;
  onSettle: (value: number) => void;
  testId?: string;
  narrow?: boolean;
}

/** A number that can be typed over, or moved by the arrow keys. */
export function NumberField({ label, value, format, parse, expected, step, onSettle, testId, narrow = false }: Props) {
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
