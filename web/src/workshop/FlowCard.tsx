import { useStore } from 'zustand';
import type { Schemas } from '../api/client';
import { partStore } from '../stores/partStore';
import { planStore } from '../stores/planStore';
import { Card } from '../ui/Card';
import { formatChange, formatCount } from '../ui/numbers';

type Counts = Schemas['FlowCountsOut'];

/** Rows of the report: `wanted` says whether more of it is welcome (+), unwelcome (-) or neither. */
const ROWS: { words: string; of: (counts: Counts) => number; wanted: 1 | 0 | -1; id: string }[] = [
  { id: 'quads', words: 'Quads', of: (c) => c.quads, wanted: 1 },
  { id: 'triangles', words: 'Triangles', of: (c) => c.triangles, wanted: 0 },
  { id: 'ngons', words: 'N-gons', of: (c) => c.ngons, wanted: -1 },
  { id: 'poles3', words: 'Poles of 3', of: (c) => c.poles3, wanted: 0 },
  { id: 'poles5', words: 'Poles of 5', of: (c) => c.poles5, wanted: 0 },
  { id: 'poles6', words: 'Poles of 6 and more', of: (c) => c.poles6, wanted: -1 },
  { id: 'stray', words: 'Stray vertices', of: (c) => c.stray, wanted: -1 },
];

/** The state of the part, and what the plan would make of it. */
export function FlowCard() {
  const flow = useStore(partStore, (s) => s.part?.flow);
  const plan = useStore(planStore, (s) => s.plan);
  if (!flow) return null;
  const planned = plan !== null && plan.refusal === null && plan.new_edges > 0;
  const before = planned ? plan.before : flow;
  return (
    <Card title="Flow" aside={planned ? 'before → after' : 'of the part'} testId="flow">
      <table className="w-full tabular-nums">
        <tbody>
          {ROWS.map(({ id, words, of, wanted }) => {
            const now = of(before);
            const change = planned ? of(plan.after) - now : 0;
            const colour = change * wanted > 0 ? 'text-moss' : change * wanted < 0 ? 'text-ochre' : '';
            return (
              <tr
                key={id}
                data-flow={id}
                className={`h-[25px] border-rule border-b ${change ? `font-semibold ${colour}` : ''}`}
              >
                <th scope="row" className="text-left [font-weight:inherit]">
                  {words}
                </th>
                <td className="text-right">{formatCount(now)}</td>
                {planned && <td className="w-16 text-right">{formatCount(now + change)}</td>}
                {planned && <td className="w-12 text-right">{formatChange(change)}</td>}
              </tr>
            );
          })}
        </tbody>
      </table>
    </Card>
  );
}
