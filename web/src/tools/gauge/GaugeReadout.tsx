/** How far the part reaches along what is measured, and how the numbers are taken. */
import { useStore } from 'zustand';
import { extraOf, planStore } from '../../stores/planStore';
import { Figure } from '../../ui/Figure';
import { formatLength } from '../../ui/numbers';
import { MirrorChoice } from '../settings/MirrorChoice';

export function GaugeReadout() {
  const gauge = useStore(planStore, (s) => extraOf(s.plan, 'gauge'));
  return (
    <>
      <Figure name="low">
        <b>{gauge ? formatLength(gauge.low) : '–'}</b>
      </Figure>
      <Figure name="high">
        <b>{gauge ? formatLength(gauge.high) : '–'}</b>
      </Figure>
      <Figure name="size">
        <b>{gauge ? formatLength(gauge.high - gauge.low) : '–'}</b>
      </Figure>
      <MirrorChoice />
      <span className="ml-auto">digits add a distance · grips are dragged</span>
    </>
  );
}
