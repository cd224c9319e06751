/** The plan finished in every way there is, a row each; the one under the pointer is drawn on the part. */
import { useStore } from 'zustand';
import type { Schemas } from '../api/client';
import { compare, comparedBy, setShared, stopComparing } from '../hand/planning';
import { type Finish, planStore } from '../stores/planStore';
import { formatChange, formatLength } from '../ui/numbers';
import { Show } from './Show';

type Shown = Schemas['FinishOut'];

/** What rounding leaves, as a length. */
const NOTHING = 1e-9;

const WORDS: Record<string, string> = { 'as cut': 'as cut', quads: 'all quads', woven: 'woven' };

export function Compared() {
  const planned = useStore(planStore, (s) => s.planned);
  const planFor = useStore(planStore, (s) => s.planFor);
  const compared = useStore(planStore, (s) => s.compared);
  const comparing = useStore(planStore, (s) => s.comparing);
  const changes = useStore(planStore, (s) => s.plan?.changes || s.plan?.refusal);
  if (!planned || !changes) return null;
  if (compared?.of !== comparedBy(planFor && JSON.parse(planFor)))
    return (
      <p className="text-right leading-7">
        {comparing ? (
          <>
            <span role="status" className="text-soft">
              the ways are being compared …
            </span>{' '}
            <button type="button" className="underline" onClick={stopComparing}>
              stop
            </button>
          </>
        ) : (
          <button type="button" data-testid="compare" className="underline" onClick={() => compare(null)}>
            compare the ways
          </button>
        )}
      </p>
    );
  return (
    <table data-testid="compared" className="mb-1 w-full border-rule border-y text-[13px] tabular-nums">
      <thead>
        <tr className="text-right text-soft [&>th]:pl-1.5 [&>th]:font-normal">
          <td />
          <th>quads</th>
          <th>others</th>
          <th>poles</th>
          <th title="smallest scaled Jacobian">least</th>
          <th title="scaled Jacobian of half of the quads">half</th>
          <th title={`how far the surface moves at most, in ${unit()}`}>moves</th>
        </tr>
      </thead>
      <tbody>
        {compared.rows.map((row, k) => (
          <Line key={row.finish} row={row} at={k} />
        ))}
      </tbody>
    </table>
  );
}

/** The unit of lengths, and a length without it. */
const unit = (): string => formatLength(0).split(' ')[1] ?? '';
const bare = (length: number): string => formatLength(length).split(' ')[0] ?? '';

const polesOf = (counts: Shown['after']): number => counts.poles3 + counts.poles5 + counts.poles6;

function Line({ row, at }: { row: Shown; at: number }) {
  const chosen = useStore(planStore, (s) => s.finish) === row.finish;
  const { before, after, mending } = row;
  const point = (k: number | null): void => planStore.setState({ comparedAt: k });
  return (
    <tr
      data-finish={row.finish}
      data-jacobian={mending?.jacobian}
      className={`text-right leading-6 hover:bg-rule/40 [&>td]:pl-1.5 ${chosen ? 'font-semibold' : ''}`}
      onPointerEnter={() => point(at)}
      onPointerLeave={() => point(null)}
    >
      <th className="whitespace-nowrap text-left font-[inherit]">
        <button
          type="button"
          aria-pressed={chosen}
          className="stitched"
          onFocus={() => point(at)}
          onBlur={() => point(null)}
          onClick={() => setShared({ finish: row.finish as Finish })}
        >
          {WORDS[row.finish]}
        </button>
      </th>
      {mending ? (
        <>
          <td>{formatChange(after.quads - before.quads)}</td>
          <td>{formatChange(after.triangles + after.ngons - before.triangles - before.ngons)}</td>
          <td>{formatChange(polesOf(after) - polesOf(before))}</td>
          <td>
            {mending.quads > 0 ? (
              <Show
                at={mending.jacobian_at}
                of={`the worst quad of ${WORDS[row.finish]}`}
                words={mending.jacobian.toFixed(2)}
              />
            ) : (
              '–'
            )}
          </td>
          <td>{mending.quads > 0 ? mending.median.toFixed(2) : '–'}</td>
          <td>
            {row.moved > NOTHING ? (
              <Show at={row.moved_at} of={`where ${WORDS[row.finish]} moves most`} words={bare(row.moved)} />
            ) : (
              '0'
            )}
          </td>
        </>
      ) : (
        <td colSpan={6} className="text-soft" title={row.refusal?.words}>
          can’t be made here
        </td>
      )}
    </tr>
  );
}
