/** The mark under the pointer: what it sits on, the stops of its edge, what would be drawn from it, and words about it. */
import type { Schemas } from '../api/client';
import type { Pixel, Place, Project } from '../space/projection';
import { MarkLabel } from './MarkLabel';
import { MarkSign } from './MarkSign';
import { acrossEdge, Stitches, Stops, Tick, thinned } from './Stitches';

interface Props {
  mark: Schemas['MarkOut'];
  /** Where it is drawn, if not where it lies. */
  at?: Pixel;
  /** Where the pointer was when it was asked about. */
  aimedAt: Pixel | null;
  chains: Schemas['ChainOut'][];
  ticks?: Schemas['AimOut']['ticks'];
  refused: boolean;
  words: string;
  project: Project;
}

export function AimMark({ mark, at, aimedAt, chains, ticks = [], refused, words, project }: Props) {
  const here = at ?? (mark.at ? project(mark.at as Place) : aimedAt);
  if (!here) return null;
  const across = mark.edge ? acrossEdge(mark.edge as [Place, Place], project) : null;
  return (
    <g>
      {chains.map((chain, k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: runs of a line have no names
        <Stitches key={k} chain={chain} project={project} faint />
      ))}
      {thinned(ticks, project).map((tick) => (
        <Tick key={tick[0].join()} tick={tick} project={project} />
      ))}
      {across && <Stops stops={mark.stops as Place[]} across={across} project={project} />}
      <MarkSign
        kind={mark.kind}
        at={here}
        across={across}
        stop={mark.stop}
        share={mark.share}
        refused={refused}
        testId="mark"
        pointer={aimedAt}
      />
      <MarkLabel at={here} words={words} />
    </g>
  );
}
