/** The seam in words and numbers: which way it takes, its points, how long it is. */
import { X } from 'lucide-react';
import { useStore } from 'zustand';
import { extraOf, planStore } from '../../stores/planStore';
import { countOf, formatLength } from '../../ui/numbers';
import { Row } from '../../ui/Row';
import { ChoiceRow, TickRow } from '../../ui/rows';
import { removePoint, setSeam } from './seam';
import { type SeamState, seamStore } from './seamStore';

const WAYS: [SeamState['way'], string][] = [
  ['shortest', 'the shortest over the surface'],
  ['straight', 'straight, in the plane of both'],
  ['plane', 'a plane cuts all that may be cut'],
];

export function SeamPlan() {
  const { points, way, closed } = useStore(seamStore);
  const told = useStore(planStore, (s) => extraOf(s.plan, 'seam'));
  return (
    <>
      <ChoiceRow
        name="way"
        label="Which way the seam takes"
        testId="seam-way"
        value={way}
        options={WAYS}
        onChange={(next) => setSeam({ way: next })}
      />
      {points.length > 2 && way !== 'plane' && (
        <TickRow
          name="closed"
          tip="The last point is joined to the first, so that the seam goes all the way round."
          on={closed}
          onChange={(next) => setSeam({ closed: next })}
        />
      )}
      {told && (
        <ol className="my-1" data-testid="plan-items">
          {told.points.map((point, k) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: points of a seam are told apart by their order
            <li key={k} className="flex h-[25px] items-center border-rule border-b">
              <span className="w-5 text-soft">{k + 1}</span>
              <span className="flex-1 truncate">{point.words}</span>
              <span className="pr-1 tabular-nums">{point.length == null ? '' : formatLength(point.length)}</span>
              <button
                type="button"
                aria-label={`Remove point ${k + 1}`}
                onClick={() => removePoint(k)}
                className="flex h-5 w-5 items-center justify-center rounded text-soft hover:bg-rule"
              >
                <X size={14} />
              </button>
            </li>
          ))}
        </ol>
      )}
      {told?.length != null && way !== 'plane' && (
        <Row name="length">
          <span data-testid="seam-length">{formatLength(told.length)}</span>
        </Row>
      )}
    </>
  );
}

/** What is planned, in a few words. */
export function useSeamAside(): string | undefined {
  const count = useStore(seamStore, (s) => s.points.length);
  return count ? countOf(count, 'point') : undefined;
}

/** The settings that are not at their defaults. */
export function useSeamChanged(): string[] {
  const way = useStore(seamStore, (s) => s.way);
  const grid = useStore(planStore, (s) => s.lock.kind === 'grid');
  return [way !== 'shortest' && way, grid && 'grid'].filter((words): words is string => typeof words === 'string');
}
