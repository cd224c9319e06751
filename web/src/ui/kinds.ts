/** Kinds of numbers: how one is shown, read from a typed text, what was expected if it is none, and how far an arrow key moves it. */
import {
  formatAngle,
  formatLength,
  formatShare,
  parseAngle,
  parseCount,
  parseLength,
  parsePosition,
  parseShare,
} from './numbers';

export interface Kind {
  format: (value: number) => string;
  /** The value of a typed text, or null if it is none. */
  parse: (text: string) => number | null;
  expected: string;
  step: number;
}

export const LENGTH: Kind = {
  format: formatLength,
  parse: parseLength,
  expected: 'A length, such as 12.5 or 3cm/2',
  step: 1,
};

export const POSITION: Kind = {
  format: formatLength,
  parse: parsePosition,
  expected: 'A position, such as 12.5 or -3cm',
  step: 1,
};

/** A position among others, without its unit. */
export const COORDINATE: Kind = { ...POSITION, format: (value) => String(Number(value.toFixed(3))) };

export const ANGLE: Kind = { format: formatAngle, parse: parseAngle, expected: 'Degrees, such as 45 or -30', step: 5 };

export const SHARE: Kind = {
  format: formatShare,
  parse: (text) => parseShare(text, null),
  expected: 'From 0 to 100 %',
  step: 0.1,
};

/** A kind of which only some values count. */
export const only = (kind: Kind, counts: (value: number) => boolean, expected: string): Kind => ({
  ...kind,
  parse: (text) => {
    const value = kind.parse(text);
    return value !== null && counts(value) ? value : null;
  },
  expected,
});

/** A length, or 0, which is shown as a word. */
export const lengthOr = (word: string): Kind => ({
  ...LENGTH,
  format: (value) => (value === 0 ? word : formatLength(value)),
  parse: (text) => (Number(text) === 0 || text.trim() === word ? 0 : parseLength(text)),
  expected: 'A length, such as 12.5 or 3cm/2, or 0',
});

export const LENGTH_OR_0: Kind = { ...lengthOr(''), format: formatLength };

/** A position, where 0 is shown as a word. */
export const positionOr = (word: string): Kind => ({
  ...POSITION,
  format: (value) => (value === 0 ? word : formatLength(value)),
  parse: (text) => (text.trim() === word ? 0 : parsePosition(text)),
});

/** A number in a range with a unit behind it, which need not be typed. */
export const numberIn = (
  unit: string,
  { least, most }: { least: number; most: number },
  step: number,
  expected = `From ${least} to ${most} ${unit}`,
): Kind => ({
  format: (value) => `${Number(value.toFixed(4))} ${unit}`,
  parse: (text) => {
    const digits = text.trim().replace(',', '.');
    const value = Number((digits.endsWith(unit) ? digits.slice(0, -unit.length) : digits).trim() || Number.NaN);
    return value >= least && value <= most ? value : null;
  },
  expected,
  step,
});

/** A part of a whole that may be more than it, in percent. */
export const PERCENT: Kind = {
  format: (value) => `${Number((100 * value).toFixed(2))} %`,
  parse: (text) => {
    const value = numberIn('%', { least: 0, most: Number.MAX_VALUE }, 1).parse(text);
    return value ? value / 100 : null;
  },
  expected: 'A percentage, such as 150',
  step: 0.1,
};

/** What a number may be, as the models of the service say it. */
export interface Range {
  least?: number;
  most?: number;
  above?: number;
  below?: number;
}

/** A kind of which only a range counts. */
export function inRange(kind: Kind, { least, most, above, below }: Range): Kind {
  const [from, to] = [
    least === undefined ? above !== undefined && `more than ${kind.format(above)}` : `at least ${kind.format(least)}`,
    most === undefined ? below !== undefined && `less than ${kind.format(below)}` : `at most ${kind.format(most)}`,
  ];
  const words = [from, to].filter(Boolean).join(' and ');
  const counts = (value: number): boolean =>
    value >= (least ?? value) &&
    value <= (most ?? value) &&
    (above === undefined || value > above) &&
    (below === undefined || value < below);
  return only(kind, counts, `${words.charAt(0).toUpperCase()}${words.slice(1)}`);
}

/** A whole number in a range; with a word, 0 too, which is shown as that. */
export function wholeNumber({ least, most }: { least: number; most: number }, word?: string): Kind {
  const from = word ? Math.max(1, least) : least;
  return {
    format: (value) => (value === 0 && word ? word : String(value)),
    parse: (text) => (word && (Number(text) === 0 || text.trim() === word) ? 0 : parseCount(text, from, most)),
    expected: `From ${from} to ${most}${word ? `, or 0 for ${word}` : ''}`,
    step: 1,
  };
}

/** How much wider each gap is than the one before. */
export const CROWDING: Kind = {
  format: (ratio) => (ratio === 1 ? 'even' : `× ${Number(ratio.toFixed(3))}`),
  parse: parseRatio,
  expected: 'How much wider each gap is than the one before, such as 1.5 or 1/2; 1 for even',
  step: 0.1,
};

function parseRatio(text: string): number | null {
  if (text.trim() === 'even') return 1;
  const [over, under = '1'] = text.replace('×', '').split('/');
  const value = Number(over) / Number(under);
  return value >= 0.01 && value <= 100 ? value : null;
}
