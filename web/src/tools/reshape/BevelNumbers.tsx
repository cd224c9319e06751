/** How wide and how round edges or vertices are cut off. */
import { useStore } from 'zustand';
import { pickStore } from '../../stores/pickStore';
import { LENGTH, wholeNumber } from '../../ui/kinds';
import { NumberRow } from '../../ui/rows';
import { SliderField } from '../../ui/SliderField';
import { setReshape } from './reshape';
import { type ReshapeState, reshapeStore } from './reshapeStore';

export function BevelNumbers() {
  const bevel = useStore(reshapeStore, (s) => s.bevel);
  const ofEdges = useStore(pickStore, (s) => s.edges.length > 0);
  const set = (changed: Partial<ReshapeState['bevel']>): void => setReshape({ bevel: { ...bevel, ...changed } });
  return (
    <>
      <NumberRow
        name="width"
        label="Width of the bevel"
        testId="bevel-width"
        value={bevel.width}
        kind={LENGTH}
        onSettle={(width) => set({ width })}
      />
      {ofEdges && (
        <NumberRow
          name="rounds of quads"
          label="Rounds of quads across the bevel"
          testId="bevel-rounds"
          value={bevel.rounds}
          kind={wholeNumber(1, 8)}
          narrow
          onSettle={(rounds) => set({ rounds })}
        />
      )}
      {ofEdges && bevel.rounds > 1 && (
        <div className="flex items-center gap-3 leading-7">
          <span className="shrink-0 text-soft">hollow</span>
          <SliderField
            label="Profile of the bevel, from hollow to round"
            testId="bevel-profile"
            value={bevel.profile}
            least={-1}
            most={1}
            step={0.05}
            onChange={(profile) => set({ profile })}
          />
          <span className="shrink-0 text-soft">round</span>
        </div>
      )}
    </>
  );
}
