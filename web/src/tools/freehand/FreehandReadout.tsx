/** What the stroke under the pointer is, and how it settles. */
import { useStore } from 'zustand';
import { keysOf } from '../../hand/commands';
import { Figure, Switch } from '../../ui/Figure';
import { formatShare } from '../../ui/numbers';
import { LockChoice } from '../settings/LockChoice';
import { MirrorChoice } from '../settings/MirrorChoice';
import { StopChoice } from '../settings/StopChoice';
import { setFreehand } from './freehand';
import { freehandStore } from './freehandStore';

const AGAINST = [
  ['view', 'from horizontal'],
  ['edge', 'from the edge'],
] as const;

export function FreehandReadout() {
  const share = useStore(freehandStore, (s) => s.aim?.mark.share ?? null);
  const { does, through, straight } = useStore(freehandStore);
  return (
    <>
      <Figure name="share">
        <b className="inline-block min-w-11">{share === null ? '–' : formatShare(share)}</b>
      </Figure>
      <Switch
        name="strokes"
        keys={keysOf('turn-over')}
        words={does === 'score' ? 'score' : 'thin'}
        onChange={() => setFreehand({ does: does === 'score' ? 'thin' : 'score' })}
      />
      <StopChoice />
      {straight && <LockChoice angle={null} against={AGAINST} />}
      <Switch
        name="reach"
        keys={keysOf('reach')}
        words={through ? 'right through' : 'near side'}
        onChange={() => setFreehand({ through: !through })}
      />
      <MirrorChoice />
    </>
  );
}
