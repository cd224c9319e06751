/** A share as a small bar, in the pattern that the flow view paints it with. */
interface Props {
  share: number;
  pattern: 'plain' | 'hatch' | 'dots';
}

const WIDTH = 36;

export function ShareBar({ share, pattern }: Props) {
  const width = share > 0 ? Math.max(1.5, WIDTH * Math.min(share, 1)) : 0;
  const fill = { plain: 'var(--color-soft)', hatch: 'url(#share-hatch)', dots: 'url(#share-dots)' }[pattern];
  return (
    <svg width={WIDTH} height={9} aria-hidden="true" className="mx-auto block">
      <defs>
        <pattern id="share-hatch" width={4} height={4} patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
          <rect width={1.8} height={4} fill="var(--color-ochre)" />
        </pattern>
        <pattern id="share-dots" width={3} height={3} patternUnits="userSpaceOnUse">
          <circle cx={1.5} cy={1.5} r={1} fill="var(--color-soft)" />
        </pattern>
      </defs>
      <rect y={8} width={WIDTH} height={1} fill="var(--color-rule)" />
      <rect width={width} height={8} fill={fill} />
    </svg>
  );
}
