/** Cut edges or vertices off, so wide and so round. */

import { useStore } from 'zustand';
import { LIMITS } from '../../../../api/limits';
import { pickStore } from '../../../../stores/pickStore';
import { LENGTH, wholeNumber } from '../../../../ui/kinds';
import { NumberRow } from '../../../../ui/rows';
import { SliderField } from '../../../../ui/SliderField';
import { edgesOrVertices, oneOf } from '../../picked';
import { workOf } from '../../work';

export const WORK = workOf({
  name: 'bevel',
  words: 'bevel',
  command: 'Bevel the picked edges or vertices',
  also: ['chamfer', 'round edges', 'fillet'],
  fits: edgesOrVertices,
  needs: 'edges or vertices',
  beside: 4,
  lasting: { width: 2, rounds: 1, profile: 1 },
  step: ({ ends, vertices }, bevel) =>
    oneOf([{ edges: ends }, { vertices }], (picked) => ({ tool: 'bevel', ...bevel, ...picked })),
  Numbers,
});

function Numbers() {
  const bevel = WORK.use();
  const ofEdges = useStore(pickStore, (s) => s.edges.length > 0);
  return (
    <>
      <NumberRow
        name="width"
        label="Width of the bevel"
        testId="bevel-width"
        value={bevel.width}
        kind={LENGTH}
        onSettle={(width) => WORK.set({ width })}
      />
      {ofEdges && (
        <NumberRow
          name="rounds of quads"
          label="Rounds of quads across the bevel"
          testId="bevel-rounds"
          value={bevel.rounds}
          kind={wholeNumber(LIMITS.BevelParams.rounds)}
          narrow
          onSettle={(rounds) => WORK.set({ rounds })}
        />
      )}
      {ofEdges && bevel.rounds > 1 && (
        <div className="flex items-center gap-3 leading-7">
          <span className="shrink-0 text-soft">hollow</span>
          <SliderField
            label="Profile of the bevel, from hollow to round"
            testId="bevel-profile"
            value={bevel.profile}
            least={LIMITS.BevelParams.profile.least}
            most={LIMITS.BevelParams.profile.most}
            step={0.05}
            onChange={(profile) => WORK.set({ profile })}
          />
          <span className="shrink-0 text-soft">round</span>
        </div>
      )}
    </>
  );
}
