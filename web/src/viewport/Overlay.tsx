/** The layer above the part: what was just made, what is planned, and the marks of the tool in hand. */
import { useMemo } from 'react';
import { useStore } from 'zustand';
import { toolNamed } from '../hand/tool';
import { type Pixel, projector } from '../space/projection';
import { partStore } from '../stores/partStore';
import { planStore } from '../stores/planStore';
import { toolStore } from '../stores/toolStore';
import { viewStore } from '../stores/viewStore';
import { FlowLines } from './FlowLines';
import { fineness, Stitches, Tick, thinned } from './Stitches';

export function Overlay() {
  const view = useStore(viewStore, (s) => s.view);
  const plan = useStore(planStore, (s) => s.plan);
  const drawn = useStore(planStore, (s) => s.drawn);
  const pointed = useStore(planStore, (s) => s.compared?.rows[s.comparedAt ?? -1]);
  const flash = useStore(partStore, (s) => s.flash);
  const tool = useStore(toolStore, (s) => s.tool);
  const project = useMemo(() => (view ? projector(view) : null), [view]);
  if (!project) return null;
  const { Marks } = toolNamed(tool);
  const fine = plan ? fineness(plan.chains, project) : 1;
  return (
    <svg className="pointer-events-none absolute inset-0 h-full w-full" data-testid="overlay" aria-hidden="true">
      {flash.map(([a, b], k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: flashed edges have no names and never change places
        <Segment key={k} from={project(a)} to={project(b)} className="flash" stroke="var(--color-thread)" />
      ))}
      <g data-testid="plan-moved" stroke="var(--color-thread)" strokeWidth={1.3} opacity={0.85}>
        {!drawn &&
          plan?.moved.map(([a, b]) => <Segment key={`${a.join()} ${b.join()}`} from={project(a)} to={project(b)} />)}
      </g>
      <g data-testid="plan-mending" stroke="var(--color-ink)" strokeWidth={0.9} opacity={0.75}>
        {(pointed ? pointed.mending : plan?.mending)?.edges.map(([a, b, far]) => (
          <Segment
            key={`${a.join()} ${b.join()}`}
            from={project(a)}
            to={project(b)}
            strokeDasharray={far ? '0.1 5' : undefined}
          />
        ))}
      </g>
      <g data-testid="plan-lines">
        {plan?.chains.map((chain, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: runs of a plan have no names
          <Stitches key={k} chain={chain} project={project} fine={fine} />
        ))}
        {plan &&
          thinned(plan.ticks, project).map((tick) => (
            <Tick key={tick[0].join()} tick={tick} project={project} fine={fine} />
          ))}
      </g>
      <FlowLines project={project} />
      <Marks project={project} />
    </svg>
  );
}

function Segment({
  from,
  to,
  ...style
}: {
  from: Pixel | null;
  to: Pixel | null;
  className?: string;
  stroke?: string;
  strokeDasharray?: string | undefined;
}) {
  return from && to ? <line x1={from[0]} y1={from[1]} x2={to[0]} y2={to[1]} strokeLinecap="round" {...style} /> : null;
}
