/** Whether what is done to the pick is done to its counterparts across a plane, too. */
import { useStore } from 'zustand';
import { setShared } from '../../hand/planning';
import { planStore } from '../../stores/planStore';
import { ChoiceRow } from '../../ui/rows';

export function MirrorRow() {
  const mirror = useStore(planStore, (s) => s.mirror);
  return (
    <ChoiceRow
      name="mirrored"
      label="Mirror of the pick"
      testId="pick-mirror"
      value={mirror?.axis ?? 'off'}
      options={[
        ['off', 'off'],
        ['x', 'across x'],
        ['y', 'across y'],
        ['z', 'across z'],
      ]}
      onChange={(axis) => setShared({ mirror: axis === 'off' ? null : { axis, offset: mirror?.offset ?? 0 } })}
    />
  );
}
