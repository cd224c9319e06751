/** Named lines of a card with one thing to set. */
import type { ComponentProps } from 'react';
import { Choice } from './Choice';
import type { Kind } from './kinds';
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

export type Three = [number, number, number];

/** Numbers along the three axes, in one line. */
export function ThreeRow({
  name,
  label,
  testId,
  value,
  kind,
  onSettle,
}: {
  name: string;
  label: string;
  testId?: string;
  value: Three;
  kind: Kind;
  onSettle: (value: Three) => void;
}) {
  return (
    <Row name={name}>
      {([0, 1, 2] as const).map((k) => (
        <NumberField
          key={k}
          label={`${label}: ${'xyz'[k]}`}
          testId={testId && `${testId}-${'xyz'[k]}`}
          value={value[k]}
          kind={kind}
          narrow
          onSettle={(next) => onSettle(value.toSpliced(k, 1, next) as Three)}
        />
      ))}
    </Row>
  );
}

export function TickRow({
  name,
  tip,
  on,
  testId,
  onChange,
}: {
  name: string;
  /** What it does, in a sentence, where its name does not say it all. */
  tip?: string;
  on: boolean;
  testId?: string;
  onChange: (on: boolean) => void;
}) {
  return (
    <label data-row={tip ?? ''} className="flex items-center justify-between leading-7">
      <span data-row-name className="text-soft">
        {name}
      </span>
      <input
        type="checkbox"
        data-testid={testId}
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
    <div data-row="" className="flex items-center gap-3 leading-7">
      <span data-row-name className="shrink-0 text-soft">
        {name}
      </span>
      <SliderField value={value} step={0.01} {...slider} />
      <span className="min-w-11 text-right tabular-nums">{formatShare(value)}</span>
    </div>
  );
}
