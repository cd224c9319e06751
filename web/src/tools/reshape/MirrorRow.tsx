/** Whether what is done to the pick is done to its counterparts across a plane, too. */
import { useStore } from 'zustand';
import { planStore } from '../../stores/planStore';
import { ChoiceRow } from '../../ui/rows';
import { MIRRORS, mirrorAcross } from '../settings/mirror';

export function MirrorRow() {
  const mirror = useStore(planStore, (s) => s.mirror);
  return (
    <ChoiceRow
      name="mirrored"
      label="Mirror of the pick"
      testId="pick-mirror"
      value={mirror?.axis ?? 'off'}
      options={MIRRORS}
      onChange={mirrorAcross}
    />
  );
}
