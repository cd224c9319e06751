import { useStore } from 'zustand';
import type { Schemas } from '../api/client';
import { FoldingCard } from '../plan/FoldingCard';
import { colourOf, FLOW_ROWS, type FlowCounts } from '../plan/flowRows';
import { flowStore } from '../stores/flowStore';
import { partStore } from '../stores/partStore';
import { planStore } from '../stores/planStore';
import { showFlow } from '../tools/reshape/pick';
import { begin } from '../tools/reshape/reshape';
import { useLate } from '../ui/late';
import { countOf, formatChange, formatCount } from '../ui/numbers';
import { QualityRows } from './QualityRows';
import { ShareBar } from './ShareBar';

type Places = Schemas['FlowOut'];

/** What is looked for only while the flow view is on. */
const CLOSER: { id: Schemas['ByFlow']['what']; words: string; of: (places: Places) => number[] }[] = [
  { id: 'blunt', words: 'Corners over 170°', of: (places) => places.blunt },
  { id: 'sharp', words: 'Corners under 10°', of: (places) => places.sharp },
  { id: 'folded', words: 'Folded quads', of: (places) => places.folded },
  { id: 'spirals', words: 'Rings that wind', of: (places) => places.spirals },
];

/** Pick what a row counts, and plan its mending. */
function ToQuads({ what, words }: { what: Schemas['ByFlow']['what']; words: string }) {
  return (
    <button
      type="button"
      className="underline"
      data-testid={`quads-${what}`}
      onClick={() => void showFlow(what).then((meant) => meant && begin('quads', true))}
    >
      {words}
    </button>
  );
}

/** Quads, and what is not quads, in a line. */
function inBrief({ quads, triangles, ngons }: FlowCounts): string {
  const others = [triangles && countOf(triangles, 'triangle'), ngons && countOf(ngons, 'n-gon')];
  return [countOf(quads, 'quad'), ...others].filter(Boolean).join(', ');
}

/** The state of the part, and what the plan would make of it; a row picks its places and brings them into sight. */
export function FlowCard() {
  const part = useStore(partStore, (s) => s.part);
  const plan = useStore(planStore, (s) => s.plan);
  const late = useLate(useStore(planStore, (s) => s.working));
  const looked = useStore(flowStore, (s) => (s.on ? s.flow : null));
  if (!part) return null;
  const planned = plan?.refusal === null && plan.changes;
  const before = planned ? plan.before : part.flow;
  const whole = { faces: part.faces, vertices: part.vertices };
  const closer = looked && looked.snapshot === part.snapshot && !planned ? looked.places : null;
  return (
    <FoldingCard
      title="Flow"
      aside={planned ? 'before → after' : 'of the part'}
      brief={inBrief(planned ? plan.after : part.flow)}
      testId="flow"
    >
      <QualityRows />
      <table className={`w-full tabular-nums ${planned && late ? 'opacity-40' : ''}`}>
        <tbody>
          {FLOW_ROWS.map(({ id, words, of, wanted, among, pattern }) => {
            const now = of(before);
            const change = planned ? of(plan.after) - now : 0;
            const colour = colourOf(change, wanted);
            return (
              <tr
                key={id}
                data-flow={id}
                className={`h-[25px] border-rule border-b ${change ? `font-semibold ${colour}` : ''}`}
              >
                <th scope="row" className="text-left [font-weight:inherit]">
                  <button
                    type="button"
                    disabled={of(part.flow) === 0}
                    onClick={() => void showFlow(id)}
                    title={of(part.flow) === 0 ? undefined : 'Pick these and bring them into sight'}
                    className="enabled:hover:underline"
                  >
                    {words}
                  </button>
                </th>
                <td className="w-12">
                  {among && <ShareBar share={now / Math.max(whole[among], 1)} pattern={pattern} />}
                </td>
                <td className="w-11 text-right">{formatCount(now)}</td>
                {planned && <td className="w-11 text-right">{formatCount(now + change)}</td>}
                {planned && <td className="w-9 text-right">{formatChange(change)}</td>}
              </tr>
            );
          })}
          {closer &&
            CLOSER.map(({ id, words, of }) => (
              <tr key={id} data-flow={id} className="h-[25px] border-rule border-b">
                <th scope="row" className="text-left [font-weight:inherit]">
                  <button
                    type="button"
                    disabled={of(closer).length === 0}
                    onClick={() => void showFlow(id)}
                    className="enabled:hover:underline"
                  >
                    {words}
                  </button>
                </th>
                <td className="w-12" />
                <td className="w-11 text-right">{formatCount(of(closer).length)}</td>
              </tr>
            ))}
        </tbody>
      </table>
      {!planned && part.flow.ngons + part.flow.triangles > 0 && (
        <p className="mt-2 flex flex-wrap items-baseline gap-x-3 text-[13.5px]">
          <span className="text-soft">turn into quads</span>
          {part.flow.ngons > 0 && <ToQuads what="ngons" words="the n-gons" />}
          {part.flow.triangles > 0 && <ToQuads what="triangles" words="the triangles" />}
        </p>
      )}
    </FoldingCard>
  );
}
