/** The sheet before the part: its frame, the shape on it, and the handles that move, turn and size it. */
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import type { Pixel, Place, Project } from '../../space/projection';
import { planStore } from '../../stores/planStore';
import { Grip } from '../../viewport/Grip';
import { MarkLabel } from '../../viewport/MarkLabel';
import { outlineStore, type Standing } from './outlineStore';

export function OutlineMarks({ project }: { project: Project }) {
  const { standing, ghost } = useStore(
    outlineStore,
    useShallow(({ standing, ghost }) => ({ standing, ghost })),
  );
  const pointer = useStore(planStore, (s) => s.pointer);
  return (
    <>
      {standing && <SheetOf standing={standing} project={project} handles />}
      {!standing && ghost && <SheetOf standing={ghost} project={project} />}
      {!standing && ghost && pointer && <MarkLabel at={pointer} words={ghost.on ?? 'off the part'} />}
    </>
  );
}

const pathOf = (places: Place[], project: Project, closed: boolean): string | null => {
  const pixels = places.map(project);
  if (pixels.some((pixel) => pixel === null)) return null;
  return `M${(pixels as Pixel[]).map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join('L')}${closed ? 'Z' : ''}`;
};

function SheetOf({ standing, project, handles = false }: { standing: Standing; project: Project; handles?: boolean }) {
  const frame = pathOf(standing.frame as Place[], project, true);
  const [place, turn, scale] = (['place', 'turn', 'scale'] as const).map((name) =>
    project(standing.handles[name] as Place),
  );
  return (
    <g data-testid={handles ? 'sheet' : 'sheet-ghost'} data-on={standing.on ?? ''} opacity={handles ? 1 : 0.6}>
      {frame && (
        <path d={frame} fill="var(--color-card)" fillOpacity={0.25} stroke="var(--color-soft)" strokeDasharray="1 4" />
      )}
      {standing.curves.map((curve, k) => (
        <path
          // biome-ignore lint/suspicious/noArrayIndexKey: curves of an outline have no names
          key={k}
          d={pathOf(curve.points as Place[], project, curve.closed ?? true) ?? ''}
          fill="none"
          stroke="var(--color-thread)"
          strokeWidth={1.2}
          strokeOpacity={0.75}
        />
      ))}
      {handles && place && turn && scale && (
        <>
          <line
            x1={place[0]}
            y1={place[1]}
            x2={turn[0]}
            y2={turn[1]}
            stroke="var(--color-thread)"
            strokeDasharray="3 3"
          />
          <Grip at={place} testId="sheet-place" />
          <Grip at={turn} by="turn" testId="sheet-turn" />
          <Grip at={scale} by="size" testId="sheet-scale" />
        </>
      )}
    </g>
  );
}
