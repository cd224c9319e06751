/** A regular polygon inside the picked face. */

import type { Schemas } from '../../../../api/client';
import { LIMITS } from '../../../../api/limits';
import { ANGLE, LENGTH, wholeNumber } from '../../../../ui/kinds';
import { ChoiceRow, NumberRow } from '../../../../ui/rows';
import { workOf } from '../../work';

type Tie = NonNullable<Schemas['CircleParams']['tie']>;

const TIES: [Tie, string][] = [
  ['spokes', 'spokes to every corner'],
  ['links', 'two links'],
  ['quads', 'quads all round'],
];

export const WORK = workOf({
  name: 'circle',
  words: 'circle in a face',
  command: 'Put a circle into the picked face',
  also: ['hole for a bolt', 'round face', 'poke'],
  fits: ({ faces }) => faces.length === 1,
  needs: 'one face',
  tray: ['quads and triangles', 4],
  lasting: {
    diameter: 10,
    count: LIMITS.CircleParams.count.first as number,
    turn: LIMITS.CircleParams.turn.first as number,
    tie: 'spokes' as Tie,
  },
  step({ faces }, circle) {
    const [face] = faces;
    return face === undefined || faces.length > 1 ? null : { tool: 'circle', face, ...circle };
  },
  Numbers,
});

function Numbers() {
  const circle = WORK.use();
  return (
    <>
      <NumberRow
        name="across"
        label="Diameter of the circle"
        testId="circle-diameter"
        value={circle.diameter}
        kind={LENGTH}
        onSettle={(value) => WORK.set({ diameter: value })}
      />
      <NumberRow
        name="points"
        label="Points of the circle"
        testId="circle-count"
        value={circle.count}
        kind={wholeNumber(LIMITS.CircleParams.count)}
        narrow
        onSettle={(value) => WORK.set({ count: value })}
      />
      <NumberRow
        name="turned by"
        label="Angle the circle is turned by"
        testId="circle-turn"
        value={circle.turn}
        kind={ANGLE}
        narrow
        onSettle={(value) => WORK.set({ turn: value })}
      />
      <ChoiceRow
        name="tied by"
        label="How the circle is tied to its face"
        testId="circle-tie"
        value={circle.tie}
        options={TIES}
        onChange={(next) => WORK.set({ tie: next })}
      />
    </>
  );
}
