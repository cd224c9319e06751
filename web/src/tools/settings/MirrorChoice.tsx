/** The plane across which everything is done a second time. */
import { memo } from 'react';
import { useStore } from 'zustand';
import { setShared } from '../../hand/planning';
import { type Mirror, planStore } from '../../stores/planStore';
import { Choice } from '../../ui/Choice';
import { Figure } from '../../ui/Figure';
import { positionOr } from '../../ui/kinds';
import { NumberField } from '../../ui/NumberField';
import { MIRRORS, mirrorAcross } from './mirror';

const setMirror = (mirror: Mirror | null): void => setShared({ mirror });

export const MirrorChoice = memo(function MirrorChoice() {
  const mirror = useStore(planStore, (s) => s.mirror);
  return (
    <Figure name="mirror">
      <Choice label="Mirror" testId="mirror" value={mirror?.axis ?? 'off'} options={MIRRORS} onChange={mirrorAcross} />
      {mirror && (
        <span className="ml-2">
          <NumberField
            label="Offset of the mirror"
            testId="mirror-offset"
            value={mirror.offset ?? 0}
            kind={positionOr('at 0')}
            narrow
            onSettle={(offset) => setMirror({ ...mirror, offset })}
          />
        </span>
      )}
    </Figure>
  );
});
