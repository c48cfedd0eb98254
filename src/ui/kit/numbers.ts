/** A typed number, also with a decimal comma, a plus or a true minus sign; null where it is none. */
export function numberIn(typed: string): number | null {
  const text = typed.trim().replace(',', '.').replace('−', '-').replace(/^[±+]/, '');
  const number = Number(text);
  return text !== '' && Number.isFinite(number) ? number : null;
}

/** What a typed amount is of. */
export interface Measure {
  /** The unit of the field. */
  unit?: string;
  /** What per cent and factors are of; without it they are refused. */
  of?: number | null;
  /** Further units that may be typed, with how much of the field's unit one of them is. */
  also?: Readonly<Record<string, number>>;
}

/** Units that can be typed, each with its kind and how much of the kind's first unit it is. */
const UNITS: Readonly<Record<string, readonly [kind: string, factor: number]>> = {
  ...{ s: ['time', 1], sec: ['time', 1], second: ['time', 1], ms: ['time', 0.001] },
  ...{ min: ['time', 60], minute: ['time', 60], h: ['time', 3600], hour: ['time', 3600] },
  ...{ bpm: ['tempo', 1], db: ['level', 1], hz: ['frequency', 1], khz: ['frequency', 1000] },
  ...{ st: ['pitch', 100], semitone: ['pitch', 100], cent: ['pitch', 1], ct: ['pitch', 1] },
  ...{ bar: ['bars', 1], beat: ['beats', 1], time: ['times', 1] },
};

const unitOf = (typed: string) => UNITS[typed] ?? UNITS[typed.replace(/s$/, '')];

/** Seconds of "30:00" or "1:02:03.5"; null where it is no time. */
function clockSeconds(text: string): number | null {
  if (!/^\d+(:\d{1,2}){1,2}([.,]\d+)?$/.test(text)) return null;
  return text.split(':').reduce((sum, part) => 60 * sum + (numberIn(part) ?? 0), 0);
}

/**
 * A typed amount in the unit of its field: a number, "2 min", "30:00", "+5 st"; "−8 %" and "x0.5" are of what the field
 * is about. Null where it is none, or of another kind.
 */
export function amountIn(typed: string, { unit = '', of = null, also = {} }: Measure = {}): number | null {
  const text = typed.trim().toLowerCase();
  const own = unitOf(unit.toLowerCase());
  const clock = clockSeconds(text);
  if (clock !== null) return own?.[0] === 'time' ? clock / own[1] : null;
  const factor = /^(?:x|×|\*)\s*(.+)$/.exec(text)?.[1] ?? /^(.+?)\s*[x×]$/.exec(text)?.[1];
  if (factor !== undefined) return scaled(of, numberIn(factor));
  const [, figure, word] = /^(.*?[\d.,])\s*([^\d\s.,]*)$/.exec(text) ?? [];
  const number = figure === undefined ? null : numberIn(figure);
  if (number === null) return null;
  if (word === '' || word === unit.toLowerCase()) return number;
  // With a sign it is more or less, without one it is a share.
  if (word === '%') return scaled(of, /^[+\-−±]/.test(text) ? 1 + number / 100 : number / 100);
  const more = also[word] ?? also[word.replace(/s$/, '')];
  if (more !== undefined) return number * more;
  const found = unitOf(word);
  return found && own && found[0] === own[0] ? (number * found[1]) / own[1] : null;
}

const scaled = (of: number | null, factor: number | null) =>
  of === null || factor === null ? null : Math.round(of * factor * 1e6) / 1e6;

/** Bounds of a typed number. */
export interface Bounds extends Measure {
  least: number;
  most: number;
  whole?: boolean;
}

/** Why a number is refused, as a sentence; null where it is accepted. */
export function whyNotNumber(
  typed: string,
  { least, most, whole = false, ...measure }: Bounds,
): string | null {
  const { unit, of } = measure;
  const number = amountIn(typed, measure);
  const range = `${least} to ${most}${unit ? ` ${unit}` : ''}`;
  if (number === null) {
    const isShare = amountIn(typed, { ...measure, of: 1 }) !== null && (of ?? null) === null;
    return isShare
      ? `There is nothing yet that “${typed.trim()}” could be of; ${range}.`
      : `“${typed.trim()}” is not a number; ${range}.`;
  }
  if (whole && !Number.isInteger(number)) return `Whole numbers, ${range}.`;
  return number < least || number > most ? `${range} is allowed, not ${typed.trim()}.` : null;
}

/** A number to so many decimals, without zeros at its end. */
export const rounded = (value: number, decimals: number): number =>
  Math.round(value * 10 ** decimals) / 10 ** decimals;
