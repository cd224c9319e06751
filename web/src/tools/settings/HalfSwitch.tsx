/** Whether the mark sits on the exact half of its edge. */
import { useStore } from 'zustand';
import { keysOf } from '../../commands';
import { planStore } from '../../stores/planStore';
import { Switch } from '../../ui/Figure';
import { setShared } from '../planning';

export function HalfSwitch() {
  const half = useStore(planStore, (s) => s.half);
  return (
    <Switch name="half" keys={keysOf('half')} words={half ? 'on' : 'off'} onChange={() => setShared({ half: !half })} />
  );
}
