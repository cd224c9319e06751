/** How much the pick is evened out, and whether its form stays. */
import { useStore } from 'zustand';
import { SHARE, wholeNumber } from '../../ui/kinds';
import { NumberRow, TickRow } from '../../ui/rows';
import { MirrorRow } from './MirrorRow';
import { setReshape } from './reshape';
import { type ReshapeState, reshapeStore } from './reshapeStore';

export function RelaxNumbers() {
  const relax = useStore(reshapeStore, (s) => s.relax);
  const set = (changed: Partial<ReshapeState['relax']>): void => setReshape({ relax: { ...relax, ...changed } });
  return (
    <>
      <NumberRow
        name="strength"
        label="How far each vertex goes towards the middle of its neighbours"
        testId="relax-strength"
        value={relax.strength}
        kind={SHARE}
        narrow
        onSettle={(strength) => strength > 0 && set({ strength })}
      />
      <NumberRow
        name="times"
        label="How often"
        testId="relax-rounds"
        value={relax.rounds}
        kind={wholeNumber(1, 200)}
        narrow
        onSettle={(rounds) => set({ rounds })}
      />
      <TickRow name="stay on the surface" on={relax.onSurface} onChange={(onSurface) => set({ onSurface })} />
      <MirrorRow />
    </>
  );
}
