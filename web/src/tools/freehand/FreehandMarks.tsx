/** The stroke under the hand, those that were drawn from this view, and the mark where an end would settle. */
import { useStore } from 'zustand';
import type { PointerPlace } from '../../hand/tool';
import type { Project } from '../../space/projection';
import { same } from '../../space/same';
import { viewStore } from '../../stores/viewStore';
import { formatAngle, formatShare } from '../../ui/numbers';
import { AimMark } from '../../viewport/AimMark';
import { freehandStore } from './freehandStore';

export function FreehandMarks({ project }: { project: Project }) {
  const { strokes, drawing, aim, aimedAt, straight } = useStore(freehandStore);
  const view = useStore(viewStore, (s) => s.view);
  const [first] = drawing?.points ?? [];
  const under = drawing && first && (straight || drawing.clicked) ? [first, aimedAt ?? first] : drawing?.points;
  return (
    <>
      {strokes.map(
        (stroke, k) =>
          // biome-ignore lint/suspicious/noArrayIndexKey: strokes are told apart by their order
          same(stroke.view, view) && <Pencil key={k} points={stroke.points} faint />,
      )}
      {under && under.length > 1 && <Pencil points={under} />}
      {aim && (
        <AimMark
          mark={aim.mark}
          aimedAt={aimedAt}
          chains={[]}
          refused={false}
          words={[
            aim.mark.kind === 'edge' ? 'edge' : aim.mark.words,
            aim.mark.share != null && aim.mark.kind === 'edge' && formatShare(aim.mark.share),
            aim.guide?.angle != null && formatAngle(aim.guide.angle),
          ]
            .filter(Boolean)
            .join(' · ')}
          project={project}
        />
      )}
    </>
  );
}

/** A stroke as the hand drew it. */
function Pencil({ points, faint = false }: { points: PointerPlace[]; faint?: boolean }) {
  return (
    <polyline
      data-testid={faint ? 'stroke' : 'stroke-under-way'}
      points={points.map(([x, y]) => `${x.toFixed(1)},${y.toFixed(1)}`).join(' ')}
      fill="none"
      stroke={faint ? 'var(--color-soft)' : 'var(--color-thread)'}
      strokeWidth={faint ? 1 : 1.8}
      strokeDasharray={faint ? '1 4' : undefined}
      strokeLinecap="round"
      strokeLinejoin="round"
    />
  );
}
