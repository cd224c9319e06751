/** Where points settle along an edge. */
import { memo } from 'react';
import { useStore } from 'zustand';
import { setShared } from '../../hand/planning';
import { STOP_STEPS } from '../../options';
import { planStore, type Stops } from '../../stores/planStore';
import { Choice } from '../../ui/Choice';
import { Figure } from '../../ui/Figure';
import { LENGTH, only, SHARE } from '../../ui/kinds';
import { NumberField } from '../../ui/NumberField';
import { formatStep } from '../../ui/numbers';

const setStops = (stops: Stops): void => setShared({ stops });

const STOP_OPTIONS: [string, string][] = [
  ['off', 'off'],
  ...STOP_STEPS.map((step): [string, string] => [String(step), `every ${formatStep(step)}`]),
  ['length', 'by length'],
];

/** The usual steps, and the one that was typed if it is another. */
function stopOptions(stops: Stops): [string, string][] {
  const typed = stops && 'share' in stops ? String(stops.share) : 'off';
  if (STOP_OPTIONS.some(([option]) => option === typed)) return STOP_OPTIONS;
  return [...STOP_OPTIONS, [typed, `every ${formatStep(Number(typed))}`]];
}

export const StopChoice = memo(function StopChoice() {
  const stops = useStore(planStore, (s) => s.stops);
  const free = useStore(planStore, (s) => s.free);
  const value = stops === null ? 'off' : 'share' in stops ? String(stops.share) : 'length';
  const take = (next: string): void => {
    const chosen: Stops = next === 'off' ? null : next === 'length' ? { length: 5 } : { share: Number(next) };
    setStops(chosen);
  };
  return (
    <Figure name="stops">
      <Choice label="Stops" testId="stops" value={value} options={stopOptions(stops)} onChange={take} />
      {stops && 'share' in stops && (
        <span className="ml-2">
          <NumberField
            label="Share between stops"
            testId="stop-share"
            value={stops.share}
            kind={{ ...only(SHARE, (share) => share > 0, 'A share of the edge, such as 12.5% or 1/6'), step: 0.05 }}
            narrow
            onSettle={(share) => setStops({ share })}
          />
        </span>
      )}
      {stops && 'length' in stops && (
        <span className="ml-2">
          <NumberField
            label="Length between stops"
            testId="stop-length"
            value={stops.length}
            kind={LENGTH}
            onSettle={(length) => setStops({ length })}
          />
        </span>
      )}
      {free && <span className="ml-1">(suspended)</span>}
    </Figure>
  );
});
