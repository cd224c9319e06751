/** The edge under the pointer, the bases with the foot their shares count from, and a ring at every place of a line. */
import { useStore } from 'zustand';
import type { Place, Project } from '../../space/projection';
import { extraOf, planStore } from '../../stores/planStore';
import { MarkLabel } from '../../viewport/MarkLabel';
import { stageOf } from '../../viewport/stageOf';
import { type EdgeEnds, ruledStore } from './ruledStore';

export function RuledMarks({ project }: { project: Project }) {
  const { bases, along, under, aimedAt, asking } = useStore(ruledStore);
  const stops = useStore(planStore, (s) => extraOf(s.plan, 'ruled')?.stops);
  const [ends] = under === null ? [] : (stageOf.current?.endsOf([under]) ?? []);
  return (
    <>
      {ends && <Edge ends={ends} project={project} testId="ruled-under" />}
      {ends && aimedAt && <MarkLabel at={aimedAt} words={asking ? 'lines run along it' : 'base'} />}
      {along && <Edge ends={along} project={project} testId="ruled-along" />}
      {bases.map((base) => (
        <Edge key={base.edge.join()} ends={base.edge} project={project} foot testId="ruled-base" />
      ))}
      {stops?.map((stop) => {
        const at = project(stop.at as Place);
        return (
          at && (
            <circle
              key={`${stop.base}.${stop.number}`}
              data-testid="ruled-stop"
              data-wanted={stop.wanted}
              data-share={stop.share}
              cx={at[0]}
              cy={at[1]}
              r={4.5}
              fill={stop.wanted ? 'var(--color-thread)' : 'var(--color-card)'}
              stroke="var(--color-thread)"
              strokeWidth={1.6}
            />
          )
        );
      })}
    </>
  );
}

/** An edge of the part, drawn as ink beside its wire; with a foot at the end its shares count from. */
function Edge({
  ends,
  project,
  foot = false,
  testId,
}: {
  ends: EdgeEnds;
  project: Project;
  foot?: boolean;
  testId: string;
}) {
  const [from, to] = ends.map((vertex) => {
    const place = stageOf.current?.placeOf(vertex);
    return place ? project(place) : null;
  });
  if (!from || !to) return null;
  const size = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1;
  const [x, y] = [(-7 * (to[1] - from[1])) / size, (7 * (to[0] - from[0])) / size];
  return (
    <g data-testid={testId} stroke="var(--color-tide)" strokeWidth={3} strokeLinecap="round">
      <line x1={from[0]} y1={from[1]} x2={to[0]} y2={to[1]} strokeOpacity={0.75} />
      {foot && <line x1={from[0] - x} y1={from[1] - y} x2={from[0] + x} y2={from[1] + y} />}
    </g>
  );
}
