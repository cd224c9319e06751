/** Push the picked faces out, or in. */
import type { Schemas } from '../../../../api/client';
import { waitFor } from '../../../../hand/planning';
import { POSITION } from '../../../../ui/kinds';
import { ChoiceRow, NumberRow } from '../../../../ui/rows';
import { faces, some } from '../../picked';
import { workOf } from '../../work';
import { PushHandle } from './PushHandle';
import { askForHandle, letGo, pull, underPointer } from './push';

type Along = NonNullable<Schemas['ExtrudeParams']['along']>;

const ALONG: [Along, string][] = [
  ['normal', 'each along its normal'],
  ['mean', 'all along the mean normal'],
  ['x', 'along x'],
  ['y', 'along y'],
  ['z', 'along z'],
];

export const WORK = workOf({
  name: 'extrude',
  words: 'extrude',
  command: 'Extrude the picked faces',
  also: ['push', 'pull', 'raise'],
  fits: faces,
  needs: 'faces',
  beside: 2,
  lasting: { distance: 5, along: 'normal' as Along },
  ofPick: { standing: null as Schemas['PlaneAimOut'] | null },
  step: ({ faces }, { distance, along }) => some(faces) && { tool: 'extrude', faces, distance, along },
  Numbers,
  Marks: PushHandle,
  changed: () => waitFor(askForHandle(null)),
  press: underPointer,
  drag: pull,
  letGo,
});

function Numbers() {
  const { distance, along } = WORK.use();
  return (
    <>
      <NumberRow
        name="by"
        label="How far the faces go"
        testId="extrude-distance"
        value={distance}
        kind={POSITION}
        onSettle={(value) => WORK.set({ distance: value })}
      />
      <ChoiceRow
        name="way"
        label="Which way they go"
        testId="extrude-along"
        value={along}
        options={ALONG}
        onChange={(next) => WORK.set({ along: next })}
      />
    </>
  );
}
