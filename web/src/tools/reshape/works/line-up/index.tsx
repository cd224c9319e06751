/** Line a chain of edges up. */
import type { Schemas } from '../../../../api/client';
import { ChoiceRow } from '../../../../ui/rows';
import { AnywayRow } from '../../rows';
import { workOf } from '../../work';

type To = NonNullable<Schemas['LineUpParams']['to']>;

const LINES: [To, string][] = [
  ['straight', 'straight'],
  ['evenly', 'evenly along it'],
  ['both', 'straight and even'],
];

export const WORK = workOf({
  name: 'line-up',
  words: 'straighten',
  command: 'Straighten the picked chain of edges',
  also: ['line up', 'align vertices', 'straighten edges', 'even spacing'],
  fits: ({ edges }) => edges.length > 1,
  needs: 'a chain of edges',
  tray: ['put in shape', 1],
  lasting: { to: 'straight' as To },
  ofPick: { anyway: false },
  step: ({ ends }, { to, anyway }) => (ends.length > 1 ? { tool: 'line up', edges: ends, to, anyway } : null),
  Numbers,
});

function Numbers() {
  const { to, anyway } = WORK.use();
  return (
    <>
      <ChoiceRow
        name="made"
        label="How the chain is lined up"
        testId="line-up-to"
        value={to}
        options={LINES}
        onChange={(next) => WORK.set({ to: next })}
      />
      <AnywayRow on={anyway} set={WORK.set} />
    </>
  );
}
