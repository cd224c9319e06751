/** What the plan changes of how the faces flow: before → after, only what is not the same. */
import { useStore } from 'zustand';
import { planStore } from '../stores/planStore';
import { formatCount } from '../ui/numbers';
import { colourOf, FLOW_ROWS } from './flowRows';

export function FlowChange() {
  const plan = useStore(planStore, (s) => s.plan);
  if (!plan || plan.refusal || !plan.changes) return null;
  const changed = FLOW_ROWS.filter(({ of }) => of(plan.before) !== of(plan.after));
  if (changed.length === 0) return null;
  return (
    <ul data-testid="plan-flow" className="my-1 flex flex-wrap gap-x-4 text-[13.5px] tabular-nums">
      {changed.map(({ id, words, of, wanted }) => (
        <li key={id} data-flow={id}>
          <span className="text-soft">{words.toLowerCase()}</span> {formatCount(of(plan.before))} →{' '}
          <b className={`font-semibold ${colourOf(of(plan.after) - of(plan.before), wanted)}`}>
            {formatCount(of(plan.after))}
          </b>
        </li>
      ))}
    </ul>
  );
}
