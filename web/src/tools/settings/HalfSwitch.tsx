/** Whether the mark sits on the exact half of its edge. */
import { memo } from 'react';
import { useStore } from 'zustand';
import { keysOf } from '../../hand/commands';
import { setShared } from '../../hand/planning';
import { planStore } from '../../stores/planStore';
import { Switch } from '../../ui/Figure';

export const HalfSwitch = memo(function HalfSwitch() {
  const half = useStore(planStore, (s) => s.half);
  return (
    <Switch name="half" keys={keysOf('half')} words={half ? 'on' : 'off'} onChange={() => setShared({ half: !half })} />
  );
});
