/** Named lines of a card with one thing to set. */
import type { ComponentProps } from 'react';
import { Choice } from './Choice';
import { NumberField } from './NumberField';
import { formatShare } from './numbers';
import { Row } from './Row';
import { SliderField } from './SliderField';

export function NumberRow({ name, ...field }: { name: string } & ComponentProps<typeof NumberField>) {
  return (
    <Row name={name}>
      <NumberField {...field} />
    </Row>
  );
}

export function ChoiceRow<Value extends string>({
  name,
  ...choice
}: { name: string } & Parameters<typeof Choice<Value>>[0]) {
  return (
    <Row name={name}>
      <Choice {...choice} />
    </Row>
  );
}

export function TickRow({ name, on, onChange }: { name: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <label className="flex items-center justify-between leading-7">
      <span className="text-soft">{name}</span>
      <input
        type="checkbox"
        checked={on}
        className="h-4 w-4 accent-tide"
        onChange={(event) => onChange(event.currentTarget.checked)}
      />
    </label>
  );
}

/** A share chosen by sliding. */
export function SlideRow({
  name,
  value,
  ...slider
}: { name: string } & Omit<ComponentProps<typeof SliderField>, 'step'>) {
  return (
    <div className="flex items-center gap-3 leading-7">
      <span className="shrink-0 text-soft">{name}</span>
      <SliderField value={value} step={0.01} {...slider} />
      <span className="min-w-11 text-right tabular-nums">{formatShare(value)}</span>
    </div>
  );
}
