/** Commands found by what a person types: by whole words, then beginnings of words, then by small slips; never by letters scattered over them. */
import { closest, distance } from 'fastest-levenshtein';
import { matchSorter, rankings } from 'match-sorter';
import type { Command } from './commands';

/** From so many letters on, one of them may be wrong; from more on, two. */
const ONE_SLIP_FROM = 4;
const TWO_SLIPS_FROM = 8;

const usable = ({ when }: Command): boolean => when?.() ?? true;

/** All words that commands have, each once. */
const wordsOf = (commands: readonly Command[]): string[] => [
  ...new Set(
    commands.flatMap(
      ({ words, also = [] }) =>
        [words, ...also]
          .join(' ')
          .toLowerCase()
          .match(/[\p{L}\d]+/gu) ?? [],
    ),
  ),
];

const split = (typed: string): string[] => typed.toLowerCase().match(/[\p{L}\d-]+/gu) ?? [];

/** Those that have every typed word, as one of theirs or its beginning; what is called just so comes first, then what can be used now. */
function having(commands: readonly Command[], typed: string): Command[] {
  const keys = [(one: Command) => one.words, (one: Command) => [...(one.also ?? [])]];
  const options = { keys, threshold: rankings.WORD_STARTS_WITH };
  const some = split(typed).reduce<Command[]>((left, word) => matchSorter(left, word, options), [...commands]);
  const order = new Map(commands.map((one, k) => [one, (usable(one) ? 0 : commands.length) + k]));
  return matchSorter(some, typed.trim(), {
    keys,
    threshold: rankings.NO_MATCH,
    baseSort: (one, other) => (order.get(one.item) ?? 0) - (order.get(other.item) ?? 0),
  });
}

/** Typed words with the known ones that they are a slip away from; null if one is none. */
function withoutSlips(commands: readonly Command[], typed: string): string | null {
  const known = wordsOf(commands);
  const meant = split(typed).map((word) => {
    if (known.some((one) => one.startsWith(word))) return word;
    const near = closest(word, known);
    const slips = word.length >= TWO_SLIPS_FROM ? 2 : word.length >= ONE_SLIP_FROM ? 1 : 0;
    return distance(word, near) <= slips ? near : null;
  });
  return meant.includes(null) ? null : meant.join(' ');
}

/** The commands that what was typed may mean, the likeliest first, and what it was taken for if that is not what was typed. */
export function find(commands: readonly Command[], typed: string): { found: Command[]; takenFor: string | null } {
  if (typed.trim() === '') return { found: [...commands], takenFor: null };
  const found = having(commands, typed);
  if (found.length > 0) return { found, takenFor: null };
  const meant = withoutSlips(commands, typed);
  return meant === null ? { found, takenFor: null } : { found: having(commands, meant), takenFor: meant };
}
