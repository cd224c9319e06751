/** The signs that say what a point sits on, told apart by shape. */
import type { Pixel } from '../space/projection';

type MarkKind = 'vertex' | 'edge' | 'half' | 'face' | 'off';

interface Props {
  kind: MarkKind;
  at: Pixel;
  /** Unit direction square to the edge on the screen. */
  across?: Pixel | null;
  stop?: boolean;
  share?: number | null;
  planned?: boolean;
  /** Only its outline: the mirrored counterpart. */
  outline?: boolean;
  lit?: boolean;
  refused?: boolean;
  testId?: string;
  /** The pointer that the mark answers. */
  pointer?: Pixel | null;
}

export function MarkSign({
  kind,
  at,
  across = null,
  stop = false,
  share = null,
  planned = false,
  outline = false,
  lit = false,
  refused = false,
  testId,
  pointer = null,
}: Props) {
  const angle = across ? (Math.atan2(across[1], across[0]) * 180) / Math.PI : 90;
  const colour = refused ? 'var(--color-soft)' : 'var(--color-thread)';
  return (
    <g
      style={{
        transform: `translate(${at[0]}px, ${at[1]}px) scale(calc(${lit ? 1.35 : planned ? 0.82 : 1} * var(--mark-size)))`,
      }}
      data-mark={kind}
      data-share={share ?? undefined}
      data-stop={stop || undefined}
      data-testid={testId}
      data-pointer={pointer ? pointer.map((x) => x.toFixed(1)).join(' ') : undefined}
    >
      {outline ? hollow(kind, angle) : shape(kind, angle, stop && !planned, colour)}
    </g>
  );
}

function shape(kind: MarkKind, angle: number, foot: boolean, colour: string) {
  const halo = { stroke: 'var(--color-card)', strokeWidth: 6.5, strokeLinecap: 'round' } as const;
  const bar = { stroke: colour, strokeWidth: 3.6, strokeLinecap: 'butt' } as const;
  switch (kind) {
    case 'vertex':
      return <path d="M0-8L8 0L0 8L-8 0Z" fill={colour} stroke="var(--color-card)" strokeWidth={1.6} />;
    case 'edge':
      return (
        <g transform={`rotate(${angle})`}>
          <line x1={-9} x2={9} {...halo} />
          <line x1={-9} x2={9} {...bar} />
          {foot && <line x1={9} x2={9} y1={-5} y2={5} stroke={colour} strokeWidth={2.4} />}
        </g>
      );
    case 'half':
      return (
        <g transform={`rotate(${angle})`}>
          {[-3.2, 3.2].map((y) => (
            <g key={y}>
              <line x1={-9} x2={9} y1={y} y2={y} {...halo} strokeWidth={5} />
              <line x1={-9} x2={9} y1={y} y2={y} {...bar} strokeWidth={2.8} />
            </g>
          ))}
        </g>
      );
    case 'face':
      return (
        <g>
          <circle r={7} fill="var(--color-card)" fillOpacity={0.85} stroke={colour} strokeWidth={2.4} />
          <circle r={1.9} fill={colour} />
        </g>
      );
    case 'off':
      return (
        <path
          d="M-2.4-9h4.8v6.6h6.6v4.8h-6.6v6.6h-4.8v-6.6h-6.6v-4.8h6.6z"
          fill="none"
          stroke={refusedOrSoft(colour)}
          strokeWidth={1.6}
        />
      );
  }
}

/** The same shapes, outline only. */
function hollow(kind: MarkKind, angle: number) {
  const line = {
    fill: 'var(--color-card)',
    fillOpacity: 0.6,
    stroke: 'var(--color-thread)',
    strokeWidth: 1.5,
  } as const;
  switch (kind) {
    case 'vertex':
      return <path d="M0-8L8 0L0 8L-8 0Z" {...line} />;
    case 'edge':
      return <rect x={-9} y={-2.5} width={18} height={5} transform={`rotate(${angle})`} {...line} />;
    case 'half':
      return (
        <g transform={`rotate(${angle})`}>
          <rect x={-9} y={-5.5} width={18} height={4} {...line} />
          <rect x={-9} y={1.5} width={18} height={4} {...line} />
        </g>
      );
    default:
      return <circle r={7} {...line} />;
  }
}

function refusedOrSoft(colour: string): string {
  return colour === 'var(--color-thread)' ? 'var(--color-soft)' : colour;
}
