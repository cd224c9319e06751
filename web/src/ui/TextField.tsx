import { TypeOver } from './TypeOver';

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

/** A text that can be typed over. */
export function TextField({ label, value, placeholder, accepts, expected, onSettle, testId }: Props) {
  const take = (text: string): boolean => {
    if (!accepts(text)) return false;
    if (text !== value) onSettle(text);
    return true;
  };
  return (
    <TypeOver
      label={label}
      shown={value}
      placeholder={placeholder}
      take={take}
      expected={expected}
      flush="right-0"
      testId={testId}
      className="w-[120px] text-right placeholder:font-normal placeholder:text-soft"
    />
  );
}
