/** Typed lengths: arithmetic with units, read in the unit of the project. */
import { createStore } from 'zustand/vanilla';
import type { Schemas } from '../api/client';

export type Unit = Schemas['ProjectOut']['unit'];

export const UNITS: [Unit, string][] = [
  ['mm', 'mm'],
  ['cm', 'cm'],
  ['m', 'm'],
  ['in', 'in'],
];
const MILLIMETRES: Record<Unit, number> = { mm: 1, cm: 10, m: 1000, in: 25.4 };

/** The unit that the numbers of the open project are in, and how large the part in hand is: by that all lengths have the same digits. */
export const unitStore = createStore<{ unit: Unit; size: number }>(() => ({ unit: 'mm', size: 100 }));

/** A number as typed, and how many of the project's unit the unit behind it is; null for none. */
type Token = { number: number; scale: number | null } | { sign: string };

function tokensOf(text: string): Token[] | null {
  const { unit } = unitStore.getState();
  const wanted = /\s*(?:(\d+\.?\d*|\.\d+)\s*(mm|cm|m|in|")?|([-+*/()]))/y;
  const tokens: Token[] = [];
  const read = text.replaceAll(',', '.').replaceAll('−', '-').trim();
  while (wanted.lastIndex < read.length) {
    const found = wanted.exec(read);
    if (!found) return null;
    const [, digits, named, sign] = found;
    if (sign) tokens.push({ sign });
    else {
      const of = named === '"' ? 'in' : (named as Unit | undefined);
      tokens.push({ number: Number(digits), scale: of ? MILLIMETRES[of] / MILLIMETRES[unit] : null });
    }
  }
  return tokens;
}

/** What part of a sum comes to, and whether it is a length by a unit of its own. */
interface Worth {
  value: number;
  named: boolean;
}

/**
 * What a text comes to in the project's unit: `12.5`, `3cm/2`, `12 + 0.5in`, `-(2 * 4mm)`; null if it is no length. The unit
 * behind a fraction is that of the whole of it: `1/4in` is a quarter of an inch.
 */
export function evaluate(text: string): number | null {
  const tokens = tokensOf(text);
  if (!tokens || tokens.length === 0) return null;
  let at = 0;
  const sign = (): string | null => {
    const token = tokens[at];
    return token && 'sign' in token ? token.sign : null;
  };
  const none: Worth = { value: Number.NaN, named: false };
  const factor = (): Worth => {
    const token = tokens[at];
    at += 1;
    if (!token) return none;
    if ('number' in token) return { value: token.number * (token.scale ?? 1), named: token.scale !== null };
    if (token.sign === '-') {
      const { value, named } = factor();
      return { value: -value, named };
    }
    if (token.sign !== '(') return none;
    const inner = sum();
    if (sign() !== ')') return none;
    at += 1;
    return inner;
  };
  const product = (): Worth => {
    let all = factor();
    while (sign() === '*' || sign() === '/') {
      const divides = sign() === '/';
      at += 1;
      const below = tokens[at];
      const next = factor();
      const named = all.named || next.named;
      // Lengths times lengths are areas, lengths in lengths mere numbers.
      if (all.named && next.named) return none;
      if (!divides) all = { value: all.value * next.value, named };
      else if (!next.named) all = { value: all.value / next.value, named };
      else if (below && 'number' in below && below.scale !== null)
        all = { value: (all.value / below.number) * below.scale, named };
      else return none;
    }
    return all;
  };
  const sum = (): Worth => {
    let all = product();
    while (sign() === '+' || sign() === '-') {
      const takes = sign() === '-';
      at += 1;
      const next = product();
      all = { value: takes ? all.value - next.value : all.value + next.value, named: all.named || next.named };
    }
    return all;
  };
  const { value } = sum();
  return at === tokens.length && Number.isFinite(value) ? value : null;
}
