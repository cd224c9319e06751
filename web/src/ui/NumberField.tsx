import { type KeyboardEvent, useState } from 'react';
import { walkedByKeyboard } from './modality';

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

/** A number that can be typed over; wrong input stays and is marked with what was expected. */
export function NumberField({ label, value, format, parse, expected, step, onSettle, testId, narrow = false }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState(false);

  /** Whether what was typed is a value, or nothing was typed. */
  const settle = (): boolean => {
    if (typed === null) return true;
    const next = parse(typed);
    if (next === null) {
      setWrong(true);
      return false;
    }
    setTyped(null);
    setWrong(false);
    if (!Object.is(next, value)) onSettle(next);
    return true;
  };
  const onKey = (event: KeyboardEvent<HTMLInputElement>): void => {
    if (event.key === 'Enter') {
      // The keys belong to the tool again: the next Enter makes the cut.
      if (settle() && !walkedByKeyboard()) event.currentTarget.blur();
    } else if (event.key === 'Escape') {
      setTyped(null);
      setWrong(false);
      event.currentTarget.blur();
    } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      const next = parse(format(value + (event.key === 'ArrowUp' ? step : -step)));
      if (next !== null) onSettle(next);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <span className="relative inline-block">
      <input
        aria-label={label}
        aria-invalid={wrong}
        data-testid={testId}
        value={typed ?? format(value)}
        onFocus={(event) => event.currentTarget.select()}
        onChange={(event) => {
          setTyped(event.currentTarget.value);
          setWrong(false);
        }}
        onKeyDown={onKey}
        onBlur={settle}
        className={`stitched ${narrow ? 'w-[52px]' : 'w-[74px]'} bg-transparent font-semibold outline-offset-4 ${wrong ? 'text-thread' : ''}`}
      />
      {wrong && (
        <span
          role="alert"
          className="absolute top-full left-0 z-10 mt-1 w-max max-w-56 rounded bg-ink px-2 py-1 text-[13px] text-paper"
        >
          {expected}
        </span>
      )}
    </span>
  );
}
