/** Where the next point of the seam would sit, and how long the seam is. */
import { useStore } from 'zustand';
import { keysOf } from '../../hand/commands';
import { extraOf, planStore } from '../../stores/planStore';
import { viewStore } from '../../stores/viewStore';
import { Figure, Switch } from '../../ui/Figure';
import { formatLength, formatShare } from '../../ui/numbers';
import { HalfSwitch } from '../settings/HalfSwitch';
import { MirrorChoice } from '../settings/MirrorChoice';
import { StopChoice } from '../settings/StopChoice';
import { nextWay, toggleGrid } from './seam';
import { seamStore } from './seamStore';

export function SeamReadout() {
  const share = useStore(seamStore, (s) => s.aim?.mark.share ?? null);
  const way = useStore(seamStore, (s) => s.way);
  const grid = useStore(planStore, (s) => s.lock.kind === 'grid');
  const parallel = useStore(viewStore, (s) => s.view?.projection === 'parallel');
  const length = useStore(planStore, (s) => extraOf(s.plan, 'seam')?.length ?? null);
  return (
    <>
      <Figure name="share">
        <b className="inline-block min-w-11">{share === null ? '–' : formatShare(share)}</b>
      </Figure>
      <Figure name="length">
        <b className="inline-block min-w-17">{length === null ? '–' : formatLength(length)}</b>
      </Figure>
      <Switch name="way" keys={keysOf('next-way')} words={way === 'plane' ? 'by a plane' : way} onChange={nextWay} />
      <StopChoice />
      {parallel && <Switch name="grid" keys={keysOf('seam-grid')} words={grid ? 'on' : 'off'} onChange={toggleGrid} />}
      <HalfSwitch />
      <MirrorChoice />
    </>
  );
}
