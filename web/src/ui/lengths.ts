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

/** The unit that the numbers of the open project are in. */
export const unitStore = createStore<{ unit: Unit }>(() => ({ unit: 'mm' }));

type Token = { number: number } | { sign: string };

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
      const of: Unit = named === '"' ? 'in' : ((named as Unit | undefined) ?? unit);
      tokens.push({ number: (Number(digits) * MILLIMETRES[of]) / MILLIMETRES[unit] });
    }
  }
  return tokens;
}

/** What a text comes to in the project's unit: `12.5`, `3cm/2`, `12 + 0.5in`, `-(2 * 4mm)`; null if it is no length. */
export function evaluate(text: string): number | null {
  const tokens = tokensOf(text);
  if (!tokens || tokens.length === 0) return null;
  let at = 0;
  const sign = (): string | null => {
    const token = tokens[at];
    return token && 'sign' in token ? token.sign : null;
  };
  const factor = (): number => {
    const token = tokens[at];
    at += 1;
    if (!token) return Number.NaN;
    if ('number' in token) return token.number;
    if (token.sign === '-') return -factor();
    if (token.sign !== '(') return Number.NaN;
    const inner = sum();
    if (sign() !== ')') return Number.NaN;
    at += 1;
    return inner;
  };
  const product = (): number => {
    let value = factor();
    while (sign() === '*' || sign() === '/') {
      const divides = sign() === '/';
      at += 1;
      const next = factor();
      value = divides ? value / next : value * next;
    }
    return value;
  };
  const sum = (): number => {
    let value = product();
    while (sign() === '+' || sign() === '-') {
      const takes = sign() === '-';
      at += 1;
      const next = product();
      value = takes ? value - next : value + next;
    }
    return value;
  };
  const value = sum();
  return at === tokens.length && Number.isFinite(value) ? value : null;
}
