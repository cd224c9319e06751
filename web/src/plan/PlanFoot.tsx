/** What a plan adds, what it changes of the flow, and what there is to say about it. */
import { useRef } from 'react';
import { useStore } from 'zustand';
import { stopPlanning } from '../hand/planning';
import { toolInHand } from '../hand/tool';
import { planStore } from '../stores/planStore';
import { LONG_MS, useLate } from '../ui/late';
import { countOf } from '../ui/numbers';
import { FlowChange } from './FlowChange';
import { Remark, together } from './Remark';
import { useRefusedField } from './refusedField';

interface Props {
  /** The plan is not far enough to be refused. */
  unfinished?: boolean;
}

export function PlanFoot({ unfinished = false }: Props) {
  const plan = useStore(planStore, (s) => s.plan);
  const trouble = useStore(planStore, (s) => s.trouble);
  const working = useStore(planStore, (s) => s.working);
  const late = useLate(working);
  const long = useLate(working, LONG_MS);
  const foot = useRef<HTMLDivElement>(null);
  const refused = unfinished ? undefined : plan?.refusal?.where;
  useRefusedField(foot, refused || undefined);
  const said = plan ? (toolInHand().saysItself?.(plan) ?? []) : [];
  return (
    <div ref={foot}>
      {late && (
        <p data-testid="working" className="flex items-baseline justify-between text-[13.5px]">
          <span role="status">being worked out …</span>
          {long && (
            <button type="button" className="underline" onClick={stopPlanning}>
              Stop
            </button>
          )}
        </p>
      )}
      {plan && (
        <>
          <p
            className={`flex justify-between text-[13.5px] text-soft ${late ? 'opacity-40' : ''}`}
            data-testid="plan-adds"
          >
            <span>
              {countOf(plan.new_vertices, 'new vertex', 'new vertices')} · {countOf(plan.new_edges, 'new edge')}
            </span>
            <span>{countOf(together(plan.notes).length, 'note')}</span>
          </p>
          <FlowChange />
          {plan.refusal && !unfinished && <Remark note={plan.refusal} stops />}
          {together(plan.notes)
            .filter((note) => !said.includes(note.words))
            .map((note) => (
              <Remark key={note.code + note.words} note={note} />
            ))}
        </>
      )}
      {trouble && (
        <p role="alert" data-testid="trouble" className="mt-2 rounded border border-ochre px-2.5 py-1.5 text-[13.5px]">
          {trouble}
        </p>
      )}
    </div>
  );
}
