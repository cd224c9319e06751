/** What the sheet stands on, how deep the outline goes. */
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { keysOf } from '../../hand/commands';
import { Figure, Switch } from '../../ui/Figure';
import { formatAngle } from '../../ui/numbers';
import { MirrorChoice } from '../settings/MirrorChoice';
import { setOutline } from './outline';
import { outlineStore } from './outlineStore';

export function OutlineReadout() {
  const { standing, ghost, through, turn } = useStore(
    outlineStore,
    useShallow(({ standing, ghost, through, turn }) => ({ standing, ghost, through, turn })),
  );
  const shown = standing ?? ghost;
  return (
    <>
      <Figure name="sheet on">
        <b className="inline-block min-w-24" data-testid="sheet-on">
          {shown?.on ?? '–'}
        </b>
      </Figure>
      <Figure name="turned">
        <b>{formatAngle(shown?.placed.turn ?? turn)}</b>
      </Figure>
      <Switch
        name="reach"
        keys={keysOf('reach')}
        words={through ? 'right through' : 'near side'}
        onChange={() => setOutline({ through: !through })}
      />
      <MirrorChoice />
    </>
  );
}
