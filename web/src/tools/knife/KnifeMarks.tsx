/** The planned points, the mark at the pointer and the stretch that would lead there. */
import { useStore } from 'zustand';
import type { Schemas } from '../../api/client';
import { GUIDE_REACH_PX } from '../../options';
import type { Place, Project } from '../../space/projection';
import { extraOf, planStore } from '../../stores/planStore';
import { formatAngle, formatLength, formatShare } from '../../ui/numbers';
import { AimMark } from '../../viewport/AimMark';
import { MarkSign } from '../../viewport/MarkSign';
import { acrossEdge } from '../../viewport/Stitches';
import { knifeStore } from './knifeStore';

export function KnifeMarks({ project }: { project: Project }) {
  const extra = useStore(planStore, (s) => extraOf(s.plan, 'knife'));
  const lit = useStore(planStore, (s) => s.lit);
  const aim = useStore(knifeStore, (s) => s.aim);
  return (
    <>
      {extra?.counterparts.map((point) => {
        const at = project(point.at as Place);
        return at && <MarkSign key={point.at.join()} kind={point.kind} at={at} planned outline testId="counterpart" />;
      })}
      <g data-testid="plan-points">
        {extra?.lines.flatMap((line, l) =>
          line.map((point, p) => {
            const at = point.at && project(point.at as Place);
            const key = `${l}.${p}`;
            const across = point.edge ? acrossEdge(point.edge as [Place, Place], project) : null;
            return at ? (
              <MarkSign key={key} kind={point.kind} at={at} across={across} lit={lit === key} planned />
            ) : null;
          }),
        )}
      </g>
      {aim && <Aim aim={aim} project={project} />}
    </>
  );
}

function Aim({ aim, project }: { aim: Schemas['AimOut']; project: Project }) {
  // Beside the part the mark stands where the pointer was when it was asked about.
  const aimedAt = useStore(knifeStore, (s) => s.aimedAt);
  const { mark } = aim;
  const mirrored = aim.counterpart && project(aim.counterpart as Place);
  return (
    <g>
      {aim.guide && <GuideLine guide={aim.guide} project={project} />}
      {mirrored && <MarkSign kind={mark.kind} at={mirrored} across={null} outline testId="mark-counterpart" />}
      <AimMark
        mark={mark}
        aimedAt={aimedAt}
        chains={aim.chains}
        ticks={aim.ticks}
        refused={aim.refusal !== null}
        words={markWords(mark, aim)}
        project={project}
      />
    </g>
  );
}

/** The line that a lock holds the next point to, with its angle. */
function GuideLine({ guide, project }: { guide: Schemas['GuideOut']; project: Project }) {
  const at = guide.at as Place;
  const from = project(at);
  const step = guide.direction.map((d, k) => (at[k] ?? 0) + 0.001 * d) as unknown as Place;
  const next = project(step);
  if (!from || !next) return null;
  const size = Math.hypot(next[0] - from[0], next[1] - from[1]) || 1;
  const [x, y] = [(GUIDE_REACH_PX * (next[0] - from[0])) / size, (GUIDE_REACH_PX * (next[1] - from[1])) / size];
  return (
    <line
      data-testid="guide"
      data-angle={guide.angle ?? undefined}
      x1={from[0] - x}
      y1={from[1] - y}
      x2={from[0] + x}
      y2={from[1] + y}
      stroke="var(--color-tide)"
      strokeWidth={1.2}
      strokeDasharray="1 5"
      strokeLinecap="round"
    />
  );
}

/** What the readout at the pointer says. */
function markWords(mark: Schemas['MarkOut'], aim: Schemas['AimOut']): string {
  if (aim.refusal) return aim.refusal;
  const said = [mark.kind === 'edge' ? 'edge' : mark.words];
  if (mark.kind === 'edge' && mark.share !== null && mark.share !== undefined) said.push(formatShare(mark.share));
  if (mark.stop && mark.kind === 'edge') said.push('stop');
  if (aim.length) said.push(formatLength(aim.length));
  if (aim.guide?.angle != null) said.push(formatAngle(aim.guide.angle));
  return said.join(' · ');
}
