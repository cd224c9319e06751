/** From how many degrees on new edges are hard. */
import { useStore } from 'zustand';
import { setShared } from '../hand/planning';
import { planStore } from '../stores/planStore';
import { ANGLE } from '../ui/kinds';
import { formatAngle } from '../ui/numbers';
import { NumberRow } from '../ui/rows';

/** Degrees, where 0 is shown as a word. */
const NONE_OR_ANGLE = {
  ...ANGLE,
  format: (value: number) => (value === 0 ? 'never' : formatAngle(value)),
  parse: (text: string) => (text.trim() === 'never' ? 0 : ANGLE.parse(text)),
};

export function HardAbove() {
  const hardAbove = useStore(planStore, (s) => s.hardAbove);
  return (
    <NumberRow
      name="new edges hard above"
      label="Degrees that the surface bends by at new edges that are to be hard"
      testId="hard-above"
      value={hardAbove ?? 0}
      kind={NONE_OR_ANGLE}
      narrow
      onSettle={(value) => setShared({ hardAbove: value > 0 ? value : null })}
    />
  );
}
