/** A part made of an outline: flat, in one face or in quads, or as thick as is wanted. */
import { useState } from 'react';
import type { Schemas } from '../api/client';
import { Button } from '../ui/Button';
import { lengthOr } from '../ui/kinds';
import { ChoiceRow, NumberRow } from '../ui/rows';

type FlatPart = Required<Schemas['FlatPart']>;

export function OutlinePart({ onMake }: { onMake: (params: FlatPart) => void }) {
  const [faces, setFaces] = useState<FlatPart['faces']>('one face');
  const [thickness, setThickness] = useState(0);
  return (
    <div
      className="my-1.5 rounded border border-rule border-dashed px-2.5 py-1.5 text-[13.5px]"
      data-testid="outline-part"
    >
      <ChoiceRow
        name="laid in"
        label="What the part is laid in"
        testId="outline-part-faces"
        value={faces}
        options={[
          ['one face', 'one face each'],
          ['quads', 'quads'],
        ]}
        onChange={setFaces}
      />
      <NumberRow
        name="thickness"
        label="How thick the part is, behind its front"
        testId="outline-part-thickness"
        value={thickness}
        kind={lengthOr('flat')}
        onSettle={setThickness}
      />
      <Button className="mt-1 w-full" onClick={() => onMake({ faces, thickness })}>
        Make the part
      </Button>
    </div>
  );
}
