/** Even the pick out. */
import { LIMITS } from '../../../../api/limits';
import { planStore } from '../../../../stores/planStore';
import { inRange, SHARE, wholeNumber } from '../../../../ui/kinds';
import { NumberRow, TickRow } from '../../../../ui/rows';
import { MirrorRow } from '../../MirrorRow';
import { anything, each } from '../../picked';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'relax',
  words: 'relax',
  command: 'Relax what is picked',
  also: ['smooth vertices', 'even out', 'spread vertices', 'sculpt smooth'],
  fits: anything,
  needs: 'faces, edges or vertices',
  beside: 13,
  lasting: {
    strength: LIMITS.RelaxParams.strength.first as number,
    rounds: LIMITS.RelaxParams.rounds.first as number,
    onSurface: true,
  },
  step: (picked, { strength, rounds, onSurface }) => ({
    tool: 'relax',
    ...each(picked),
    strength,
    rounds,
    on_surface: onSurface,
    mirror: planStore.getState().mirror,
  }),
  Numbers,
});

function Numbers() {
  const relax = WORK.use();
  return (
    <>
      <NumberRow
        name="strength"
        label="How far each vertex goes towards the middle of its neighbours"
        testId="relax-strength"
        value={relax.strength}
        kind={inRange(SHARE, LIMITS.RelaxParams.strength)}
        narrow
        onSettle={(strength) => WORK.set({ strength })}
      />
      <NumberRow
        name="times"
        label="How often"
        testId="relax-rounds"
        value={relax.rounds}
        kind={wholeNumber(LIMITS.RelaxParams.rounds)}
        narrow
        onSettle={(rounds) => WORK.set({ rounds })}
      />
      <TickRow
        name="stay on the surface"
        tip="Vertices are put back onto the surface there was after every round."
        on={relax.onSurface}
        onChange={(onSurface) => WORK.set({ onSurface })}
      />
      <MirrorRow />
    </>
  );
}
