/** Numbers as people read and type them. */

import { evaluate, unitStore } from './lengths';

export function formatShare(share: number): string {
  const percent = 100 * share;
  return `${Number.isInteger(Math.round(percent * 1e6) / 1e6) ? Math.round(percent) : percent.toFixed(2)} %`;
}

export function formatLength(length: number): string {
  return `${length.toFixed(digits())} ${unitStore.getState().unit}`;
}

/** Decimals of lengths: three for a part of ten to a thousand units, fewer for larger ones, more for smaller. */
function digits(): number {
  const { size } = unitStore.getState();
  const tens = size > 0 ? Math.floor(Math.log10(size)) : 2;
  if (tens > 2) return Math.max(5 - tens, 0);
  return tens > 0 ? 3 : Math.min(4 - tens, 6);
}

/** A number with so many decimals; what they would make nothing of keeps two digits. */
const plain = (value: number, decimals: number): string =>
  value !== 0 && Number(value.toFixed(decimals)) === 0 ? String(Number(value.toPrecision(2))) : value.toFixed(decimals);

export function formatArea(area: number): string {
  return `${plain(area, Math.max(digits() - 1, 0))} ${unitStore.getState().unit}²`;
}

export function formatVolume(volume: number): string {
  return `${plain(volume, Math.max(digits() - 2, 0))} ${unitStore.getState().unit}³`;
}

/** When something happened, in the reader's own words for dates. */
export function formatWhen(moment: string): string {
  const minutes = (Date.now() - new Date(moment).getTime()) / 60_000;
  if (minutes < 1) return 'just now';
  if (minutes < 60) return `${Math.floor(minutes)} min ago`;
  return new Date(moment).toLocaleString('en-GB', {
    day: 'numeric',
    month: 'long',
    hour: '2-digit',
    minute: '2-digit',
  });
}

export function formatAngle(degrees: number): string {
  return `${Number(degrees.toFixed(3))}°`;
}

/** A typed angle in degrees, or null: `30`, `-12.5°`. */
export function parseAngle(text: string): number | null {
  const found = /^\s*(-?[\d.]+)\s*°?\s*$/.exec(text.replace(',', '.'));
  const value = found ? Number(found[1]) : Number.NaN;
  return Number.isFinite(value) ? value : null;
}

/** A typed length, or null: `12.5`, `12.5mm`, `3cm/2`, `1/4`, `2in + 3`. */
export function parseLength(text: string): number | null {
  const value = evaluate(text);
  return value !== null && value > 0 ? value : null;
}

export function formatCount(count: number): string {
  return count.toLocaleString('en').replace(/,/g, ' ');
}

/** `1 note`, `2 notes`. */
export function countOf(count: number, one: string, many = `${one}s`): string {
  return `${formatCount(count)} ${count === 1 ? one : many}`;
}

export function formatChange(change: number): string {
  return change > 0 ? `+${change}` : change < 0 ? `−${-change}` : '0';
}

/** Thirds and the like are named as fractions, other steps as shares. */
export function formatStep(step: number): string {
  const parts = Math.round(1 / step);
  const whole = Number.isInteger(Math.round(step * 1e8) / 1e6);
  return !whole && Math.abs(parts * step - 1) < 1e-9 ? `1/${parts}` : formatShare(step);
}

/**
 * A typed share: `25%`, `1/4`, `.25`, or a length such as `12.5mm` when the edge's length is known.
 * Returns null if it is none of these or not between 0 and 1. A bare number above 1 is a percentage.
 */
export function parseShare(text: string, edgeLength: number | null): number | null {
  if (UNIT_AT_END.test(text) || /(?:mm|cm|m|in|")\s*[-+*/]/.test(text)) {
    const length = evaluate(text);
    return length !== null && edgeLength ? within(length / edgeLength) : null;
  }
  const found = /^\s*([\d.]+(?:\s*[/*]\s*[\d.]+)*)\s*(%)?\s*$/.exec(text.replace(',', '.'));
  const value = found && arithmetic(found[1] ?? '');
  if (!found || value === null) return null;
  return within(found[2] === '%' || value > 1 ? value / 100 : value);
}

const UNIT_AT_END = /(?:mm|cm|m|in|")\s*$/;
const within = (share: number): number | null => (share >= 0 && share <= 1 ? share : null);

/** A typed whole number within a range, or null. */
export function parseCount(text: string, least: number, most: number): number | null {
  const value = Number(text.trim());
  return text.trim() !== '' && Number.isInteger(value) && value >= least && value <= most ? value : null;
}

/** A typed number with its sign, in any unit: `-12.5`, `3cm`; or null. */
export const parsePosition = evaluate;

/** Typed places: all shares (`20% 50% 1/3`) or all lengths (`5mm 10mm`); null if they are neither. */
export function parseList(text: string): { at: number[]; measure: 'share' | 'distance' } | null {
  const words = text.trim().split(/[\s;]+/);
  const lengths = words.every((word) => UNIT_AT_END.test(word));
  const at = words.map((word) => (lengths ? parseLength(word) : parseShare(word, null)));
  return at.every((value) => value !== null) ? { at, measure: lengths ? 'distance' : 'share' } : null;
}

function arithmetic(text: string): number | null {
  let value: number | null = null;
  for (const [, sign, digits] of text.matchAll(/([/*]?)\s*([\d.]+)/g)) {
    const number = Number(digits);
    if (!Number.isFinite(number)) return null;
    if (value === null) value = number;
    else value = sign === '/' ? value / number : value * number;
  }
  return value !== null && Number.isFinite(value) ? value : null;
}
