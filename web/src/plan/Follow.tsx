/** How far new vertices are lifted onto the curve of the row that each crossed edge is in. */
import { useStore } from 'zustand';
import { setShared } from '../hand/planning';
import { planStore } from '../stores/planStore';
import { SHARE } from '../ui/kinds';
import { NumberField } from '../ui/NumberField';
import { formatLength } from '../ui/numbers';
import { SliderField } from '../ui/SliderField';

export function Follow() {
  const follow = useStore(planStore, (s) => s.follow);
  const lifted = useStore(planStore, (s) => s.plan?.lifted ?? 0);
  const set = (next: number): void => setShared({ follow: next });
  return (
    <>
      <p data-row="" className="flex items-center gap-3 leading-7 [&_input]:text-right">
        <span data-row-name className="text-soft">
          follow
        </span>
        <SliderField
          label="Follow the curve of the crossed edges"
          testId="follow-slider"
          value={follow}
          step={0.05}
          onChange={set}
        />
        <NumberField label="Follow in percent" testId="follow" value={follow} kind={SHARE} narrow onSettle={set} />
      </p>
      {follow > 0 && (
        <p
          className="mb-1 border-rule border-l-2 pl-2.5 text-[13.5px] text-soft"
          data-testid="lifted"
          data-most={lifted}
        >
          off the surface by up to {formatLength(lifted)}
        </p>
      )}
    </>
  );
}
