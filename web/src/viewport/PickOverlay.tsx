/** The brush and the rectangle of Pick, and in words for everybody what is picked. */
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { pickStore } from '../stores/pickStore';
import { toolStore } from '../stores/toolStore';

export function PickOverlay() {
  const tool = useStore(toolStore, (s) => s.tool);
  const { rectangle, brush, radius, vertices, edges, faces } = useStore(
    pickStore,
    useShallow(({ rectangle, brush, radius, vertices, edges, faces }) => ({
      rectangle,
      brush,
      radius,
      vertices,
      edges,
      faces,
    })),
  );
  return (
    <svg
      className="pointer-events-none absolute inset-0 h-full w-full"
      data-testid="picked"
      data-vertices={vertices.length}
      data-edges={edges.length}
      data-faces={faces.length}
      aria-hidden="true"
    >
      {tool === 'pick' && rectangle && (
        <rect
          x={Math.min(rectangle[0], rectangle[2])}
          y={Math.min(rectangle[1], rectangle[3])}
          width={Math.abs(rectangle[2] - rectangle[0])}
          height={Math.abs(rectangle[3] - rectangle[1])}
          fill="var(--color-tide)"
          fillOpacity={0.08}
          stroke="var(--color-tide)"
          strokeDasharray="6 4"
        />
      )}
      {tool === 'pick' && brush && (
        <circle cx={brush[0]} cy={brush[1]} r={radius} fill="none" stroke="var(--color-tide)" strokeWidth={1.4} />
      )}
    </svg>
  );
}
