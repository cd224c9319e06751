/** The points of the seam, and the mark where the next would be. */
import { useStore } from 'zustand';
import type { Place, Project } from '../../space/projection';
import { extraOf, planStore } from '../../stores/planStore';
import { formatShare } from '../../ui/numbers';
import { AimMark } from '../../viewport/AimMark';
import { MarkSign } from '../../viewport/MarkSign';
import { stageOf } from '../../viewport/stageOf';
import { seamStore } from './seamStore';

export function SeamMarks({ project }: { project: Project }) {
  const { aim, aimedAt, points } = useStore(seamStore);
  const planned = useStore(planStore, (s) => extraOf(s.plan, 'seam')?.points);
  return (
    <>
      {planned?.map((point) => {
        const at = project(point.at as Place);
        return at && <MarkSign key={point.at.join()} kind={kindOf(point.words)} at={at} planned testId="seam-point" />;
      })}
      {!planned && points[0] && <First project={project} />}
      {aim && (
        <AimMark
          mark={aim.mark}
          aimedAt={aimedAt}
          chains={[]}
          refused={aim.refusal !== null}
          words={[
            aim.mark.kind === 'edge' ? 'edge' : aim.mark.words,
            aim.mark.kind === 'edge' && aim.mark.share != null && formatShare(aim.mark.share),
          ]
            .filter(Boolean)
            .join(' · ')}
          project={project}
        />
      )}
    </>
  );
}

const kindOf = (words: string): 'vertex' | 'edge' | 'face' =>
  words.startsWith('vertex') ? 'vertex' : words.startsWith('edge') ? 'edge' : 'face';

/** The first point, before there is a plan to say where it lies. */
function First({ project }: { project: Project }) {
  const first = useStore(seamStore, (s) => s.points[0]);
  const stage = stageOf.current;
  if (!first || !stage) return null;
  let place: Place | null = null;
  if ('vertex' in first) place = stage.placeOf(first.vertex);
  else if ('edge' in first) {
    const [from, to] = first.edge.map((vertex) => stage.placeOf(vertex));
    if (from && to) place = from.map((value, k) => value + first.t * ((to[k] ?? 0) - value)) as unknown as Place;
  } else if ('at' in first) place = first.at as Place;
  const at = place && project(place);
  const kind = 'vertex' in first ? 'vertex' : 'edge' in first ? 'edge' : 'face';
  return at && <MarkSign kind={kind} at={at} planned testId="seam-point" />;
}
