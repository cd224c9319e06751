/** What the next point would be, in numbers, and how the knife works. */
import { useStore } from 'zustand';
import { keysOf } from '../../hand/commands';
import { Figure, Switch } from '../../ui/Figure';
import { formatLength, formatShare } from '../../ui/numbers';
import { HalfSwitch } from '../settings/HalfSwitch';
import { LockChoice } from '../settings/LockChoice';
import { MirrorChoice } from '../settings/MirrorChoice';
import { StopChoice } from '../settings/StopChoice';
import { setKnife } from './knife';
import { knifeStore } from './knifeStore';

const AGAINST = [
  ['view', 'from horizontal'],
  ['stretch', 'from the stretch before'],
  ['edge', 'from the edge'],
] as const;

export function KnifeReadout() {
  const aim = useStore(knifeStore, (s) => s.aim);
  const through = useStore(knifeStore, (s) => s.through);
  return (
    <>
      <Figure name="share">
        <b className="inline-block min-w-11" data-testid="readout-share">
          {aim?.mark.share == null ? '–' : formatShare(aim.mark.share)}
        </b>
      </Figure>
      <Figure name="length">
        <b className="inline-block min-w-17" data-testid="readout-length">
          {aim?.length == null ? '–' : formatLength(aim.length)}
        </b>
      </Figure>
      <StopChoice />
      <LockChoice angle={aim?.guide?.angle ?? null} against={AGAINST} />
      <HalfSwitch />
      <Switch
        name="reach"
        keys={keysOf('reach')}
        words={through ? 'right through' : 'near side'}
        onChange={() => setKnife({ through: !through })}
      />
      <MirrorChoice />
    </>
  );
}
