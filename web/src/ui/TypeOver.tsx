import { type KeyboardEvent, useRef, useState } from 'react';
import { walkedByKeyboard } from './modality';

interface Props {
  label: string;
  /** What stands there while nothing is typed. */
  shown: string;
  placeholder?: string;
  /** Take a typed text; false if it means nothing. */
  take: (text: string) => boolean;
  /** Said in place when it does not. */
  expected: string;
  /** What the arrow keys do, up or down. */
  onArrow?: (direction: 1 | -1) => void;
  /** The side of the field that what was expected is flush with. */
  flush?: 'left-0' | 'right-0';
  testId?: string | undefined;
  className: string;
}

/** A field that can be typed over; what means nothing stays and is marked with what was expected. */
export function TypeOver({
  label,
  shown,
  placeholder,
  take,
  expected,
  onArrow,
  flush = 'left-0',
  testId,
  className,
}: Props) {
  const [typed, showTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState(false);
  // Enter takes a text and then leaves the field, which takes it too: by then nothing must be typed any more.
  const untaken = useRef<string | null>(null);
  const setTyped = (text: string | null): void => {
    untaken.current = text;
    showTyped(text);
    setWrong(false);
  };

  /** Whether what was typed means something, or nothing was typed. */
  const settle = (): boolean => {
    if (untaken.current === null) return true;
    if (!take(untaken.current)) {
      setWrong(true);
      return false;
    }
    setTyped(null);
    return true;
  };
  const onKey = (event: KeyboardEvent<HTMLInputElement>): void => {
    const arrow = { ArrowUp: 1, ArrowDown: -1 }[event.key] as 1 | -1 | undefined;
    if (event.key === 'Enter') {
      // The keys belong to the tool again: the next Enter makes the cut.
      if (settle() && !walkedByKeyboard()) event.currentTarget.blur();
    } else if (event.key === 'Escape') {
      setTyped(null);
      event.currentTarget.blur();
    } else if (arrow && onArrow) onArrow(arrow);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <span className="relative inline-block">
      <input
        aria-label={label}
        aria-invalid={wrong}
        data-testid={testId}
        data-typed
        value={typed ?? shown}
        placeholder={placeholder}
        onFocus={(event) => event.currentTarget.select()}
        onChange={(event) => setTyped(event.currentTarget.value)}
        onKeyDown={onKey}
        onBlur={settle}
        className={`stitched bg-transparent font-semibold outline-offset-4 ${className} ${wrong ? 'text-thread' : ''}`}
      />
      {wrong && (
        <span
          role="alert"
          className={`absolute top-full z-10 mt-1 w-max max-w-56 whitespace-normal rounded bg-ink px-2 py-1 text-[13px] text-paper ${flush}`}
        >
          {expected}
        </span>
      )}
    </span>
  );
}
