/** How a person likes to have it: kept in this browser. */
import { useStore } from 'zustand';
import { setLock, setShared } from '../hand/planning';
import { STOP_STEPS } from '../options';
import { prefer, preferencesStore, THREADS, USUAL } from '../stores/preferencesStore';
import { openSheet, sheetStore } from '../stores/sheetStore';
import { Button } from '../ui/Button';
import { Choice } from '../ui/Choice';
import { ANGLE, only } from '../ui/kinds';
import { UNITS } from '../ui/lengths';
import { NumberField } from '../ui/NumberField';
import { formatStep } from '../ui/numbers';
import { Row } from '../ui/Row';
import { Sheet } from '../ui/Sheet';
import { SliderField } from '../ui/SliderField';

const STOPS: [string, string][] = [
  ['off', 'off'],
  ...STOP_STEPS.map((step): [string, string] => [String(step), `every ${formatStep(step)}`]),
];
const STEP = only(ANGLE, (value) => value > 0 && value <= 180, 'From 0 to 180 degrees');

function setStops(next: string): void {
  const stops = next === 'off' ? null : { share: Number(next) };
  prefer({ stops });
  setShared({ stops });
}

export function PreferencesSheet() {
  const open = useStore(sheetStore, (s) => s.sheet === 'preferences');
  const { stops, angleStep, wire, marks, thread, unit } = useStore(preferencesStore);
  return (
    <Sheet title="Preferences" open={open} onClose={() => openSheet(null)}>
      <Row name="stops">
        <Choice
          label="Stops to begin with"
          testId="preferred-stops"
          value={stops && 'share' in stops ? String(stops.share) : 'off'}
          options={STOPS}
          onChange={setStops}
        />
      </Row>
      <Row name="angle steps">
        <NumberField
          label="Steps of the angle to begin with"
          testId="preferred-angle"
          value={angleStep}
          kind={STEP}
          narrow
          onSettle={(degrees) => {
            prefer({ angleStep: degrees });
            setLock({ degrees });
          }}
        />
      </Row>
      <Size name="wire" label="Strength of the wire" value={wire} range={[0.3, 1.6]} of="wire" />
      <Size name="marks" label="Size of marks and handles" value={marks} range={[0.8, 2]} of="marks" />
      <Row name="thread">
        <span className="inline-flex items-center gap-2">
          <span aria-hidden className="inline-block h-3 w-7 rounded-sm bg-thread" />
          <Choice
            label="Colour of what is planned"
            testId="preferred-thread"
            value={thread}
            options={THREADS}
            onChange={(next) => prefer({ thread: next })}
          />
        </span>
      </Row>
      <Row name="unit of new projects">
        <Choice
          label="Unit of new projects"
          testId="preferred-unit"
          value={unit}
          options={UNITS}
          onChange={(next) => prefer({ unit: next })}
        />
      </Row>
      <div className="mt-4 flex flex-wrap justify-end gap-2">
        <Button look="quiet" onClick={() => prefer({ hintsRead: [] })}>
          Show hints again
        </Button>
        <Button look="quiet" onClick={() => openSheet('keys')}>
          Keys…
        </Button>
        <Button
          onClick={() => {
            const { hintsRead } = preferencesStore.getState();
            prefer({ ...USUAL, hintsRead });
            setShared({ stops: USUAL.stops });
            setLock({ degrees: USUAL.angleStep });
          }}
        >
          All as usual
        </Button>
      </div>
    </Sheet>
  );
}

interface SizeProps {
  name: string;
  label: string;
  value: number;
  range: [number, number];
  of: 'wire' | 'marks';
}

function Size({ name, label, value, range: [least, most], of }: SizeProps) {
  return (
    <div className="flex items-center gap-4 leading-7">
      <span className="w-24 shrink-0 text-soft">{name}</span>
      <SliderField
        label={label}
        testId={`preferred-${of}`}
        value={value}
        least={least}
        most={most}
        step={0.1}
        onChange={(next) => prefer(of === 'wire' ? { wire: next } : { marks: next })}
      />
      <span className="w-12 text-right">{Math.round(100 * value)} %</span>
    </div>
  );
}
