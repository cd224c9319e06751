/** The end of the line in numbers, how it is held and settles. */
import { useStore } from 'zustand';
import { keysOf } from '../../hand/commands';
import { Figure, Switch } from '../../ui/Figure';
import { formatAngle } from '../../ui/numbers';
import { LockChoice } from '../settings/LockChoice';
import { MirrorChoice } from '../settings/MirrorChoice';
import { StopChoice } from '../settings/StopChoice';
import { flipSides, setSlice } from './slice';
import { sliceStore } from './sliceStore';

const AGAINST = [
  ['view', 'from horizontal'],
  ['edge', 'from the edge'],
] as const;

export function SliceReadout() {
  const angle = useStore(sliceStore, (s) => s.aim?.angle ?? lineAngle(s.line));
  const through = useStore(sliceStore, (s) => s.through);
  const placed = useStore(sliceStore, (s) => s.placed);
  const after = useStore(sliceStore, (s) => s.after);
  return (
    <>
      {!placed && (
        <>
          <Figure name="angle">
            <b className="inline-block min-w-11" data-testid="readout-angle">
              {angle === null ? '–' : formatAngle(angle)}
            </b>
          </Figure>
          <StopChoice />
          <LockChoice angle={null} against={AGAINST} />
        </>
      )}
      {after === 'keep' && (
        <Switch
          name="reach"
          keys={keysOf('reach')}
          words={through ? 'right through' : 'near side'}
          onChange={() => setSlice({ through: !through })}
        />
      )}
      <Switch name="sides" keys={keysOf('flip')} words="flip" onChange={flipSides} />
      {(after === 'keep' || after === 'discard') && <MirrorChoice />}
    </>
  );
}

/** The angle of a line on the screen, from the horizontal. */
function lineAngle(line: { from: [number, number]; to: [number, number] } | null): number | null {
  return line && (Math.atan2(line.from[1] - line.to[1], line.to[0] - line.from[0]) * 180) / Math.PI;
}
