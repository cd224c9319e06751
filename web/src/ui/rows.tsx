/** Named lines of a card with one thing to set. */
import type { ComponentProps } from 'react';
import { Choice } from './Choice';
import { NumberField } from './NumberField';
import { Row } from './Row';

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
