/** The direction that the next stretch, or the line of a slice, is held to. */
import { memo } from 'react';
import { useStore } from 'zustand';
import { setLock } from '../../hand/planning';
import { type Lock, planStore } from '../../stores/planStore';
import { viewStore } from '../../stores/viewStore';
import { Choice } from '../../ui/Choice';
import { Figure } from '../../ui/Figure';
import { ANGLE, LENGTH, only } from '../../ui/kinds';
import { NumberField } from '../../ui/NumberField';
import { formatAngle } from '../../ui/numbers';

const LOCK_WORDS: [Lock['kind'], string][] = [
  ['free', 'free'],
  ['angle', 'angle steps'],
  ['x', 'along x'],
  ['y', 'along y'],
  ['z', 'along z'],
  ['square', 'square to the edge'],
  ['along', 'along the edge'],
  ['grid', 'grid'],
];

interface Props {
  /** The angle that the lock holds now. */
  angle: number | null;
  /** What an angle can be measured against. */
  against: readonly (readonly [Lock['against'], string])[];
}

export const LockChoice = memo(function LockChoice({ angle, against }: Props) {
  const lock = useStore(planStore, (s) => s.lock);
  const parallel = useStore(viewStore, (s) => s.view?.projection === 'parallel');
  return (
    <Figure name="lock">
      <Choice
        label="Lock"
        testId="lock"
        value={lock.kind}
        options={LOCK_WORDS.filter(([kind]) => kind !== 'grid' || parallel)}
        onChange={(kind) => setLock({ kind })}
      />
      {lock.kind === 'angle' && (
        <span className="ml-2 inline-flex gap-2">
          <NumberField
            label="Steps of the angle"
            value={lock.degrees}
            kind={only(ANGLE, (value) => value > 0 && value <= 180, 'From 0 to 180 degrees')}
            narrow
            onSettle={(degrees) => setLock({ degrees })}
          />
          <Choice
            label="Measured against"
            testId="lock-against"
            value={lock.against}
            options={against}
            onChange={(next) => setLock({ against: next })}
          />
          {angle !== null && <b data-testid="readout-angle">{formatAngle(angle)}</b>}
        </span>
      )}
      {lock.kind === 'grid' && (
        <span className="ml-2">
          <NumberField
            label="Spacing of the grid"
            value={lock.spacing}
            kind={LENGTH}
            onSettle={(spacing) => setLock({ spacing })}
          />
        </span>
      )}
    </Figure>
  );
});
