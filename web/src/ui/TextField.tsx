import { useState } from 'react';
import { walkedByKeyboard } from './modality';

interface Props {
  label: string;
  value: string;
  placeholder: string;
  /** Whether a text means something. */
  accepts: (text: string) => boolean;
  /** Said in place when it does not. */
  expected: string;
  onSettle: (text: string) => void;
  testId?: string;
}

/** A text that can be typed over; one that means nothing stays and is marked with what was expected. */
export function TextField({ label, value, placeholder, accepts, expected, onSettle, testId }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState(false);
  /** Whether what was typed means something, or nothing was typed. */
  const settle = (): boolean => {
    if (typed === null) return true;
    if (!accepts(typed)) {
      setWrong(true);
      return false;
    }
    setTyped(null);
    if (typed !== value) onSettle(typed);
    return true;
  };
  return (
    <span className="relative inline-block">
      <input
        aria-label={label}
        aria-invalid={wrong}
        data-testid={testId}
        value={typed ?? value}
        placeholder={placeholder}
        onFocus={(event) => event.currentTarget.select()}
        onChange={(event) => {
          setTyped(event.currentTarget.value);
          setWrong(false);
        }}
        onKeyDown={(event) => {
          if (event.key === 'Enter') {
            if (settle() && !walkedByKeyboard()) event.currentTarget.blur();
          } else if (event.key === 'Escape') {
            setTyped(null);
            setWrong(false);
            event.currentTarget.blur();
          } else return;
          event.preventDefault();
          event.stopPropagation();
        }}
        onBlur={settle}
        className={`stitched w-[120px] bg-transparent text-right font-semibold outline-offset-4 placeholder:font-normal placeholder:text-soft ${wrong ? 'text-thread' : ''}`}
      />
      {wrong && (
        <span
          role="alert"
          className="absolute top-full right-0 z-10 mt-1 w-max max-w-56 whitespace-normal rounded bg-ink px-2 py-1 text-[13px] text-paper"
        >
          {expected}
        </span>
      )}
    </span>
  );
}
