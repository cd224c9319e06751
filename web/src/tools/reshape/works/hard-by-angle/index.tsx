/** Make the edges hard, soft, or a crease at which the surface bends. */
import { LIMITS } from '../../../../api/limits';
import { ANGLE, inRange } from '../../../../ui/kinds';
import { NumberRow } from '../../../../ui/rows';
import { always } from '../../picked';
import { HARD, HardnessRows } from '../../rows';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'hard-by-angle',
  words: 'hard by angle',
  command: 'Make edges hard by their angle',
  also: ['sharp by angle', 'smooth shading by angle', 'crease by angle'],
  fits: always,
  needs: 'nothing',
  tray: ['put in shape', 5],
  lasting: { ...HARD, bend: 40 },
  step: (_, { bend, hardness, strength }) => ({ tool: 'hard edges', degrees: bend, to: hardness, strength }),
  Numbers,
});

function Numbers() {
  const { bend, ...hardness } = WORK.use();
  return (
    <>
      <NumberRow
        name="that bend by more than"
        label="How much the surface bends at the edges"
        testId="hard-bend"
        value={bend}
        kind={inRange(ANGLE, LIMITS.HardEdgesParams.degrees)}
        onSettle={(next) => WORK.set({ bend: next })}
      />
      <HardnessRows {...hardness} set={WORK.set} />
    </>
  );
}
