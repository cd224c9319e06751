/** What settings do, where their labels don't say it all: a sentence, and a small drawing where words are not enough. */
import type { ReactNode } from 'react';

export interface TipOf {
  words: string;
  drawing?: ReactNode;
}

/** Ink for what is there, thread for what comes; dots for vertices. */
const Drawn = ({ ink, thread, dots = [] }: { ink: string; thread: string; dots?: [number, number][] }) => (
  <svg viewBox="0 0 120 56" className="mt-1.5 h-14 w-30" aria-hidden="true" fill="none" strokeWidth="1.6">
    <path d={ink} stroke="currentColor" opacity="0.75" />
    <path d={thread} stroke="var(--tip-thread)" strokeWidth="2.2" strokeDasharray="5 3" />
    {dots.map(([x, y]) => (
      <circle key={`${x} ${y}`} cx={x} cy={y} r="2.8" fill="var(--tip-thread)" />
    ))}
  </svg>
);

/** By what a control is found by on the page. */
export const TIPS: ReadonlyMap<string, TipOf> = new Map<string, TipOf>([
  [
    'follow',
    {
      words: 'New vertices leave the straight edge for the curve of the row that it is in, by this share.',
      drawing: <Drawn ink="M6 48L34 22L86 22L114 48" thread="M34 22Q60 6 86 22" dots={[[60, 14]]} />,
    },
  ],
  [
    'loop-extra',
    {
      words: 'So many vertices stand on each new edge, evenly: to be moved, or to bend it.',
      drawing: (
        <Drawn
          ink="M8 8H112M8 48H112M36 8V48M84 8V48"
          thread="M8 28H112"
          dots={[
            [20, 28],
            [60, 28],
            [100, 28],
          ]}
        />
      ),
    },
  ],
  [
    'loop-ratio',
    {
      words: 'Each gap is so many times as wide as the one before: at 1 all are alike.',
      drawing: <Drawn ink="M8 8H112V48H8Z" thread="M20 8V48M38 8V48M66 8V48" />,
    },
  ],
  [
    'outline-tie',
    {
      words: 'A shape that lies inside one face is joined to its border by two links, or by a spoke from each corner.',
      drawing: (
        <Drawn
          ink="M4 6H52V50H4ZM68 6H116V50H68ZM20 20H36V36H20ZM84 20H100V36H84Z"
          thread="M4 28H20M36 28H52M68 6L84 20M116 6L100 20M116 50L100 36M68 50L84 36"
        />
      ),
    },
  ],
  [
    'open-ends',
    {
      words:
        'A line that ends inside a face is taken back to the last edge, led on to the next, or joined to a corner.',
      drawing: <Drawn ink="M6 8H114V48H6ZM60 8V48" thread="M6 28H60M60 28H88" dots={[[60, 28]]} />,
    },
  ],
  [
    'bevel-profile',
    {
      words: 'What lies between both sides is hollow, flat or round.',
      drawing: <Drawn ink="M10 50V24M66 8H114" thread="M10 24Q10 8 66 8M10 24L66 8M10 24Q54 24 66 8" />,
    },
  ],
  [
    'falloff-curve',
    {
      words: 'How much neighbours go along, from the pick outwards.',
      drawing: <Drawn ink="M8 50H114" thread="M8 50C40 50 44 8 60 8C76 8 80 50 112 50" dots={[[60, 8]]} />,
    },
  ],
  [
    'lock',
    {
      words:
        'Holds the next stretch of a line: by steps of an angle, along an axis, along the edge or square to it, on a grid.',
      drawing: (
        <Drawn
          ink="M14 46L100 46M14 46L92 22M14 46L64 6"
          thread="M14 46L92 22"
          dots={[
            [14, 46],
            [92, 22],
          ]}
        />
      ),
    },
  ],
  ['stops', { words: 'Equal places along an edge where points settle; Alt held lets them go free.' }],
  [
    'mirror',
    {
      words: 'What is planned is made on the other side of the part as well.',
    },
  ],
  [
    'then',
    { words: 'Whether both sides stay, one goes, a gap opens between them, or one takes the place of the other.' },
  ],
  [
    'finish',
    {
      words: 'What the faces that the cut touches end as: left as they are, turned into quads, or bent to the line.',
    },
  ],
  ['smooth', { words: 'How much the stroke is evened out before it is laid on the part.' }],
  ['turn-about', { words: 'The axis that what is picked turns about.' }],
]);
