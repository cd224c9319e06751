/** Break the part: into cells, along planes or lines, by counts; closed or not, and what its inside is called. */

import { Dices } from 'lucide-react';
import { useStore } from 'zustand';
import type { Schemas } from '../../../../api/client';
import { LIMITS } from '../../../../api/limits';
import { extraOf, planStore } from '../../../../stores/planStore';
import { IconButton } from '../../../../ui/Button';
import { LENGTH_OR_0, wholeNumber } from '../../../../ui/kinds';
import { NumberField } from '../../../../ui/NumberField';
import { countOf, formatVolume } from '../../../../ui/numbers';
import { Row } from '../../../../ui/Row';
import { ChoiceRow, NumberRow, TickRow } from '../../../../ui/rows';
import { TextField } from '../../../../ui/TextField';
import { always } from '../../picked';
import { workOf } from '../../work';
import { ShardEdges } from './ShardEdges';

type ShardsStep = Required<Schemas['ShardsParams']>;
export type ShardsBy = ShardsStep['by'];
type Way = ShardsBy['way'];

const WAYS: [Way, string][] = [
  ['cells', 'into cells'],
  ['random planes', 'along random planes'],
  ['counts', 'by counts'],
];
const FRESH: Record<Exclude<Way, 'planes' | 'lines'>, ShardsBy> = {
  cells: { way: 'cells', count: LIMITS.ByCells.count.first, seed: LIMITS.ByCells.seed.first },
  'random planes': {
    way: 'random planes',
    count: LIMITS.ByRandomPlanes.count.first,
    seed: LIMITS.ByRandomPlanes.seed.first,
  },
  counts: {
    way: 'counts',
    x: LIMITS.ByCounts.x.first,
    y: LIMITS.ByCounts.y.first,
    z: LIMITS.ByCounts.z.first,
  },
};
const MOST_SEED = 2 ** 31 - 1;

export const WORK = workOf({
  name: 'shards',
  words: 'shards',
  command: 'Break the part into shards',
  also: ['fracture', 'shatter', 'break', 'debris'],
  fits: always,
  needs: 'nothing',
  tray: ['the whole part', 0],
  lasting: { by: FRESH.cells, cap: true, inside: 'Inside', thickness: 0, as_parts: true } as Pick<
    ShardsStep,
    'by' | 'cap' | 'inside' | 'thickness' | 'as_parts'
  >,
  step: (_, shards) => ({ tool: 'shards', ...shards }),
  Numbers,
  Marks: ShardEdges,
});

function Numbers() {
  const shards = WORK.use();
  const found = useStore(planStore, (s) => extraOf(s.plan, 'shards'));
  const { by } = shards;
  const drawn: [Way, string][] =
    by.way === 'lines'
      ? [['lines', `along ${countOf(by.lines.length, 'line')} drawn`]]
      : by.way === 'planes'
        ? [['planes', `along ${countOf(by.planes.length, 'plane')}`]]
        : [];
  return (
    <>
      <ChoiceRow
        name="it breaks"
        label="How the part breaks"
        testId="shards-way"
        value={by.way}
        options={[...WAYS, ...drawn]}
        onChange={(way) => way !== 'planes' && way !== 'lines' && WORK.set({ by: FRESH[way] })}
      />
      {(by.way === 'cells' || by.way === 'random planes') && (
        <Row name={by.way === 'cells' ? 'cells' : 'planes'}>
          <NumberField
            label="How many"
            testId="shards-count"
            value={by.count ?? 2}
            kind={wholeNumber(by.way === 'cells' ? LIMITS.ByCells.count : LIMITS.ByRandomPlanes.count)}
            narrow
            onSettle={(count) => WORK.set({ by: { ...by, count } })}
          />
          {' · seed '}
          <NumberField
            label="The seed that strews them"
            testId="shards-seed"
            value={by.seed ?? 1}
            kind={wholeNumber({ least: LIMITS.ByCells.seed.least, most: MOST_SEED })}
            narrow
            onSettle={(seed) => WORK.set({ by: { ...by, seed } })}
          />
          <IconButton
            label="Strew them anew"
            onClick={() => WORK.set({ by: { ...by, seed: ((by.seed ?? 1) + 1) % MOST_SEED } })}
          >
            <Dices size={15} />
          </IconButton>
        </Row>
      )}
      {by.way === 'counts' && (
        <Row name="along x, y, z">
          {(['x', 'y', 'z'] as const).map((axis) => (
            <NumberField
              key={axis}
              label={`How many along ${axis}`}
              testId={`shards-${axis}`}
              value={by[axis] ?? 1}
              kind={wholeNumber(LIMITS.ByCounts[axis])}
              narrow
              onSettle={(count) => WORK.set({ by: { ...by, [axis]: count } })}
            />
          ))}
        </Row>
      )}
      <TickRow
        name="closed where it breaks"
        tip="Every piece is closed by faces where it broke; otherwise it stays open there."
        on={shards.cap}
        onChange={(cap) => WORK.set({ cap })}
      />
      {shards.cap && (
        <Row name="its inside is called">
          <TextField
            label="Patch and material of the inner faces"
            value={shards.inside ?? ''}
            placeholder="nothing"
            accepts={(text) => text.length <= 120}
            expected="A name of at most 120 letters"
            testId="shards-inside"
            onSettle={(inside) => WORK.set({ inside: inside.trim() || null })}
          />
        </Row>
      )}
      <NumberRow
        name="an open skin is thick"
        label="How thick an open skin becomes first"
        testId="shards-thickness"
        value={shards.thickness}
        kind={LENGTH_OR_0}
        onSettle={(thickness) => WORK.set({ thickness })}
      />
      <TickRow
        name="each a part of its own"
        tip="Every piece becomes a part on the table; otherwise all stay in this one."
        on={shards.as_parts}
        onChange={(as_parts) => WORK.set({ as_parts })}
      />
      {found && (
        <p className="my-1 text-[13.5px] text-soft" data-testid="shards-found" data-count={found.count}>
          {countOf(found.count, 'piece')}, {found.closed} closed
          {found.volume !== null &&
            found.smallest !== null &&
            found.largest !== null &&
            `: ${formatVolume(found.smallest)} to ${formatVolume(found.largest)}, ${formatVolume(found.volume)} in all`}
        </p>
      )}
    </>
  );
}
