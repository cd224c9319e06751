/** What is counted of how the faces of a part flow, in the order it is told. */
import type { Schemas } from '../api/client';

export type FlowCounts = Schemas['FlowCountsOut'];

export interface FlowRow {
  id: Schemas['ByFlow']['what'];
  words: string;
  of: (counts: FlowCounts) => number;
  /** Whether more of it is welcome (+), unwelcome (-) or neither. */
  wanted: 1 | 0 | -1;
  /** What its share is a share of; nothing for what has no whole. */
  among?: 'faces' | 'vertices';
  pattern: 'plain' | 'hatch' | 'dots';
}

export const FLOW_ROWS: FlowRow[] = [
  { id: 'quads', words: 'Quads', of: (c) => c.quads, wanted: 1, among: 'faces', pattern: 'plain' },
  { id: 'triangles', words: 'Triangles', of: (c) => c.triangles, wanted: 0, among: 'faces', pattern: 'dots' },
  { id: 'ngons', words: 'N-gons', of: (c) => c.ngons, wanted: -1, among: 'faces', pattern: 'hatch' },
  { id: 'warped', words: 'Warped faces', of: (c) => c.warped, wanted: -1, among: 'faces', pattern: 'hatch' },
  { id: 'poles3', words: 'Poles of 3', of: (c) => c.poles3, wanted: 0, among: 'vertices', pattern: 'plain' },
  { id: 'poles5', words: 'Poles of 5', of: (c) => c.poles5, wanted: 0, among: 'vertices', pattern: 'plain' },
  { id: 'poles6', words: 'Poles of 6+', of: (c) => c.poles6, wanted: -1, among: 'vertices', pattern: 'plain' },
  { id: 'stray', words: 'Stray vertices', of: (c) => c.stray, wanted: -1, among: 'vertices', pattern: 'plain' },
  { id: 't_junctions', words: 'T-junctions', of: (c) => c.t_junctions, wanted: -1, pattern: 'plain' },
  { id: 'borders', words: 'Open boundaries', of: (c) => c.borders, wanted: -1, pattern: 'plain' },
];

/** The colour of a change: of what is welcome, and of what is not. */
export const colourOf = (change: number, wanted: number): string =>
  change * wanted > 0 ? 'text-moss' : change * wanted < 0 ? 'text-ochre' : '';
