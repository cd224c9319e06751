/** Give the part a second skin. */
import { POSITION } from '../../../../ui/kinds';
import { NumberRow } from '../../../../ui/rows';
import { always } from '../../picked';
import { Said } from '../../rows';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'thicken',
  words: 'thicken',
  command: 'Thicken the part to a shell',
  also: ['solidify', 'shell', 'wall thickness', 'offset surface'],
  fits: always,
  needs: 'nothing',
  tray: ['the whole part', 2],
  lasting: { distance: -2 },
  step: (_, { distance }) => ({ tool: 'thicken', distance }),
  Numbers,
});

function Numbers() {
  return (
    <>
      <NumberRow
        name="by"
        label="How thick the part becomes: outwards, or inwards if negative"
        testId="thickness"
        value={WORK.use().distance}
        kind={POSITION}
        onSettle={(distance) => WORK.set({ distance })}
      />
      <Said>A second skin at that distance; its boundary becomes a wall.</Said>
    </>
  );
}
