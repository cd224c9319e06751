/** Copies of the part in hand: in a row, round an axis, or its mirror image. */

import { useState } from 'react';
import type { Schemas } from '../api/client';
import { LIMITS } from '../api/limits';
import type { TablePart } from '../stores/tableStore';
import { Button } from '../ui/Button';
import { ANGLE, COORDINATE, POSITION, wholeNumber } from '../ui/kinds';
import { ChoiceRow, NumberRow, type Three, ThreeRow } from '../ui/rows';
import { Sheet } from '../ui/Sheet';

type Way = 'row' | 'round' | 'mirrored';
type Axis = 'x' | 'y' | 'z';

const WAYS: [Way, string][] = [
  ['row', 'in a row'],
  ['round', 'round an axis'],
  ['mirrored', 'mirrored'],
];
const AXES: [Axis, string][] = [
  ['x', 'x'],
  ['y', 'y'],
  ['z', 'z'],
];

interface Props {
  part: TablePart;
  onClose: () => void;
  onCopy: (copies: Schemas['CopiesIn']['copies']) => void;
}

export function CopiesSheet({ part, onClose, onCopy }: Props) {
  const wide = Math.max((part.high[0] ?? 0) - (part.low[0] ?? 0), 0);
  const [way, setWay] = useState<Way>('row');
  const [count, setCount] = useState(1);
  const [step, setStep] = useState<Three>([Number((1.25 * wide).toPrecision(2)) || 10, 0, 0]);
  const [axis, setAxis] = useState<Axis>('y');
  const [degrees, setDegrees] = useState(90);
  const [rise, setRise] = useState(0);
  const [through, setThrough] = useState<Three>([0, 0, 0]);
  const [offset, setOffset] = useState(0);
  const copies = (): Schemas['CopiesIn']['copies'] => {
    if (way === 'row') return { way, count, step };
    if (way === 'round') return { way, count, axis, through, degrees, rise };
    return { way, axis, offset };
  };
  return (
    <Sheet title={`Copies of ${part.name}`} open onClose={onClose}>
      <div data-testid="copies-sheet">
        <ChoiceRow
          name="they stand"
          label="How the copies stand"
          testId="copies-way"
          value={way}
          options={WAYS}
          onChange={setWay}
        />
        {way !== 'mirrored' && (
          <NumberRow
            name="how many"
            label="How many copies are made"
            testId="copies-count"
            value={count}
            kind={wholeNumber(LIMITS.InARow.count)}
            narrow
            onSettle={setCount}
          />
        )}
        {way === 'row' && (
          <ThreeRow name="each further by" label="Step" value={step} kind={COORDINATE} onSettle={setStep} />
        )}
        {way !== 'row' && (
          <ChoiceRow name="axis" label="The axis" testId="copies-axis" value={axis} options={AXES} onChange={setAxis} />
        )}
        {way === 'round' && (
          <>
            <ThreeRow
              name="through"
              label="A place on the axis"
              value={through}
              kind={COORDINATE}
              onSettle={setThrough}
            />
            <NumberRow
              name="each turned by"
              label="Degrees from one to the next"
              testId="copies-degrees"
              value={degrees}
              kind={ANGLE}
              onSettle={setDegrees}
            />
            <NumberRow
              name="each risen by"
              label="How far along the axis from one to the next"
              testId="copies-rise"
              value={rise}
              kind={POSITION}
              onSettle={setRise}
            />
          </>
        )}
        {way === 'mirrored' && (
          <NumberRow
            name="mirror at"
            label="Where the mirror stands on the axis"
            testId="copies-offset"
            value={offset}
            kind={POSITION}
            onSettle={setOffset}
          />
        )}
        <div className="mt-4 flex justify-end gap-2">
          <Button onClick={onClose}>Leave it</Button>
          <Button look="primary" onClick={() => onCopy(copies())}>
            Make the copies
          </Button>
        </div>
      </div>
    </Sheet>
  );
}
