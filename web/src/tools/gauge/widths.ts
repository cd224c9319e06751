/** Lists of distances as values: gaps and positions, a cut moved, a list mirrored. Nothing here asks or shows. */
import { parseLength } from '../../ui/numbers';

export type Measure = 'gaps' | 'positions';

/** Typed or pasted distances: `12.5 3cm`, one below the other, `4x5mm` for the same four times; null if one is none. */
export function parseWidths(text: string): number[] | null {
  const words = text.trim().split(/[\s;]+/);
  const found = words.map((word) => {
    const repeated = /^(\d+)[x×](.+)$/.exec(word);
    const width = parseLength(repeated ? (repeated[2] ?? '') : word);
    return width === null ? null : Array<number>(repeated ? Number(repeated[1]) : 1).fill(width);
  });
  return found.every((list) => list !== null) ? found.flat() : null;
}

/** How far from the datum each cut lies. */
export function positionsOf(widths: number[], measure: Measure): number[] {
  if (measure === 'positions') return widths;
  let total = 0;
  return widths.map((width) => {
    total += width;
    return total;
  });
}

/** The widths of cuts that lie so far from the datum. */
export function widthsOf(positions: number[], measure: Measure): number[] {
  return measure === 'positions' ? positions : positions.map((at, k) => at - (positions[k - 1] ?? 0));
}

/** The list with one cut elsewhere; the others stay where they are. Null if it would pass its neighbours in a list of gaps. */
export function withMoved(widths: number[], measure: Measure, cut: number, at: number): number[] | null {
  const positions = positionsOf(widths, measure).with(cut, at);
  const moved = widthsOf(positions, measure);
  return moved.every((width) => width > 0) ? moved : null;
}

/** The list and its image about the middle of so long a part, as one. */
export function mirrored(widths: number[], measure: Measure, extent: number): number[] {
  const positions = positionsOf(widths, measure).filter((at) => at < extent);
  const both = [...positions, ...positions.map((at) => extent - at)].sort((a, b) => a - b);
  const apart = both.filter((at, k) => k === 0 || at - (both[k - 1] ?? 0) > 1e-9 * extent);
  return widthsOf(apart, measure);
}
