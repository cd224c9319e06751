/** How well the faces of the part are formed: one measure, its histogram, and what of it is painted. */
import { useStore } from 'zustand';
import type { Schemas } from '../api/client';
import { flowStore, type Measure, paintBy, qualityOf } from '../stores/flowStore';
import { partStore } from '../stores/partStore';
import { showQuality } from '../tools/reshape/pick';
import { countOf } from '../ui/numbers';
import { ChoiceRow } from '../ui/rows';

export const PAINTS: ['flow' | Measure, string][] = [
  ['flow', 'the flow'],
  ['jacobian', 'scaled Jacobian'],
  ['angle', 'greatest angle'],
  ['sides', 'longest to shortest side'],
  ['warp', 'warp'],
];

const SAID: Record<Measure, (value: number) => string> = {
  jacobian: (value) => value.toFixed(1),
  angle: (value) => `${value}°`,
  sides: (value) => `${value} : 1`,
  warp: (value) => `${Number((100 * value).toFixed(1))} %`,
};

/** The bars are no taller than this, in pixels. */
const TALLEST = 44;

/** As the faces of each are painted: not at all, wide, close, closest. */
const FILLS = ['bg-soft/25', 'bg-soft/50', 'bg-soft', 'bg-ochre'];

export function QualityRows() {
  const on = useStore(flowStore, (s) => s.on);
  const paint = useStore(flowStore, (s) => s.paint);
  const snapshot = useStore(partStore, (s) => s.part?.snapshot);
  const found = useStore(flowStore, (s) => qualityOf(s, snapshot));
  if (!on) return null;
  return (
    <>
      <ChoiceRow
        name="painted"
        label="What the flow view paints"
        testId="flow-paint"
        value={paint}
        options={PAINTS}
        onChange={paintBy}
      />
      {found && <Histogram found={found} />}
    </>
  );
}

function Histogram({ found }: { found: Schemas['QualityOut'] }) {
  const { bins, measure } = found;
  const most = Math.max(...bins.map((bin) => bin.faces), 1);
  const say = SAID[measure];
  return (
    <div data-testid="histogram" className="mb-1 flex items-end gap-[3px] border-rule border-b pb-1">
      {bins.map((bin, k) => {
        const range = bin.worst === null ? `${say(bin.best)} and worse` : `${say(bin.best)} to ${say(bin.worst)}`;
        return (
          <button
            key={bin.best}
            type="button"
            data-faces={bin.faces}
            disabled={bin.faces === 0}
            aria-label={`${countOf(bin.faces, 'face')}, ${range}: pick them`}
            title={`${countOf(bin.faces, 'face')}, ${range}`}
            className="flex flex-1 flex-col items-center justify-end text-[11px] text-soft tabular-nums"
            onClick={() => void showQuality(measure, k)}
          >
            <span
              className={`w-full ${FILLS[bin.level] ?? ''}`}
              style={{ height: bin.faces && Math.max(2, Math.round((TALLEST * bin.faces) / most)) }}
            />
            {say(bin.best).replace(/ .*/, '')}
          </button>
        );
      })}
    </div>
  );
}
