/** How lines leave their base, in numbers. */
import { useStore } from 'zustand';
import { keysOf } from '../../hand/commands';
import { Figure, Switch } from '../../ui/Figure';
import { formatAngle } from '../../ui/numbers';
import { MirrorChoice } from '../settings/MirrorChoice';
import { setRuled } from './ruled';
import { ruledStore } from './ruledStore';

export function RuledReadout() {
  const { degrees, along, ends, side } = useStore(ruledStore);
  const whole = ends === 'whole part';
  return (
    <>
      <Figure name="angle">
        <b className="inline-block min-w-11">{along ? `along ${along.join('–')}` : formatAngle(degrees)}</b>
      </Figure>
      <Switch
        name="base"
        keys={keysOf('whole-side')}
        words={side === 'whole' ? 'the whole side' : 'one edge'}
        onChange={() => setRuled({ side: side === 'whole' ? 'edge' : 'whole' })}
      />
      <Switch
        name="reach"
        keys={keysOf('reach')}
        words={whole ? 'the whole part' : 'picked faces'}
        onChange={() => setRuled({ ends: whole ? 'border' : 'whole part' })}
      />
      <MirrorChoice />
    </>
  );
}
