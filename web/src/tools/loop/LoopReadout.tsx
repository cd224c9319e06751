/** The mark on the edge in numbers, and how it settles. */
import { useStore } from 'zustand';
import { keysOf } from '../../hand/commands';
import { Figure, Switch } from '../../ui/Figure';
import { formatLength, formatShare } from '../../ui/numbers';
import { HalfSwitch } from '../settings/HalfSwitch';
import { MirrorChoice } from '../settings/MirrorChoice';
import { StopChoice } from '../settings/StopChoice';
import { flip } from './loop';
import { loopStore } from './loopStore';

export function LoopReadout() {
  const mark = useStore(loopStore, (s) => s.aim?.mark ?? null);
  const flipped = useStore(loopStore, (s) => s.flipped);
  const share = mark?.share == null ? null : flipped ? 1 - mark.share : mark.share;
  return (
    <>
      <Figure name="share">
        <b className="inline-block min-w-11" data-testid="readout-share">
          {share === null ? '–' : formatShare(share)}
        </b>
      </Figure>
      <Figure name="distance">
        <b className="inline-block min-w-17" data-testid="readout-length">
          {share === null || mark?.length == null ? '–' : formatLength(share * mark.length)}
        </b>
      </Figure>
      <StopChoice />
      <HalfSwitch />
      <Switch name="from" keys={keysOf('flip')} words={flipped ? 'the other end' : 'the foot'} onChange={flip} />
      <MirrorChoice />
    </>
  );
}
