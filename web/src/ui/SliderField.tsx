/** A value chosen by sliding: told while it moves. */
import { Slider } from 'radix-ui';

interface Props {
  label: string;
  value: number;
  /** The range, from 0 to 1 unless given. */
  least?: number;
  most?: number;
  step: number;
  onChange: (value: number) => void;
  testId?: string;
}

export function SliderField({ label, value, least = 0, most = 1, step, onChange, testId }: Props) {
  return (
    <Slider.Root
      value={[Math.min(Math.max(value, least), most)]}
      min={least}
      max={most}
      step={step}
      onValueChange={([next]) => next !== undefined && onChange(Math.round(next * 1e6) / 1e6)}
      data-testid={testId}
      className="relative flex h-6 flex-1 touch-none items-center"
    >
      <Slider.Track className="relative h-[3px] flex-1 rounded bg-rule">
        <Slider.Range className="absolute h-full rounded bg-thread" />
      </Slider.Track>
      <Slider.Thumb
        aria-label={label}
        className="block h-[18px] w-[7px] rounded-[2px] border border-card bg-thread shadow-sm"
      />
    </Slider.Root>
  );
}
