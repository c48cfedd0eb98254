import type { Key } from '@/core/harmony/keyNames';
import { mod } from '@/core/math/mod';
import { noteName } from '@/core/harmony/scale';
import { strainOf } from '@/core/timeStretch/strain';
import { beatTime, feltBeatsPerBar } from '@/core/rhythm/grid';
import { heardIn, type LaneScore } from './parts';
import type { Score } from './score';

const NOTES = 12;
/** Where no key says how notes are spelled. */
const C: Key = { tonic: 0, mode: 'major' };
/** Of a chroma's shares so much is noise and what rings on; what is above it is a note. */
const FLOOR = 0.06;
/** Two triads a semitone apart, each note beside another, come to about a third. */
const CLASH_OF_ONE = 0.33;
/** From here on somebody is told. */
export const CLASHES_FROM = 0.25;

/** Shares of twelve notes, C first, that sum up to 1; all 0 where nothing has a pitch. */
export type Notes = Float64Array;

/** What sounds as a note in a chroma. */
export function notesOf(chroma: ArrayLike<number>): Notes {
  const sum = Array.from(chroma).reduce((a, b) => a + b, 0);
  const notes = Float64Array.from({ length: NOTES }, (_, i) =>
    sum > 0 ? Math.max(0, chroma[i] / sum - FLOOR) : 0,
  );
  const rest = notes.reduce((a, b) => a + b, 0);
  return rest > 0 ? notes.map((one) => one / rest) : notes;
}

/** The same notes, so many semitones higher. */
export const moved = (notes: Notes, semitones: number): Notes =>
  notes.map((_, i) => notes[mod(i - semitones, NOTES)]);

/** How much of two stands a semitone apart. */
function beside(a: Notes, b: Notes): number {
  let sum = 0;
  for (let i = 0; i < NOTES; i++) sum += a[i] * (b[(i + 1) % NOTES] + b[(i + NOTES - 1) % NOTES]);
  return sum;
}

/**
 * How much two clash, 0 … 1: notes of one that lie a semitone beside notes of the other, less what each holds of that in itself (a
 * scale has two semitones, and is none the worse for it).
 */
export function clashOf(a: Notes, b: Notes): number {
  const own = Math.max(beside(a, a), beside(b, b));
  return Math.max(0, Math.min(1, (beside(a, b) - own) / CLASH_OF_ONE));
}

/** How much of two is the same notes, 0 … 1. */
export const sharedOf = (a: Notes, b: Notes): number =>
  a.reduce((sum, one, i) => sum + Math.min(one, b[i]), 0);

/** What a lane sounds in each bar of the blend, as it is moved now; all 0 where it is silent or has no pitch. */
export interface LaneHarmony {
  laneId: string;
  bars: Notes[];
  whole: Notes;
  /** Nothing in it has a pitch, or it is not heard. */
  isSilent: boolean;
}

/** Chroma over time of a sample: rows of 12. */
interface Rows {
  rate: number;
  rows: ArrayLike<number>;
}

/** Places in a bar that are looked at. */
const LOOKS = 8;

/** The notes of a lane, bar by bar. `chroma`: of its sample; null where it is not known yet or has no pitch. */
export function harmonyOf(
  one: LaneScore,
  { grid, bars }: Score,
  chroma: Rows | null,
  isUnpitched: boolean,
): LaneHarmony {
  const size = feltBeatsPerBar(grid.meter);
  const shift = Math.round(one.bend.semitones + one.bend.cents / 100);
  const isSilent = chroma === null || isUnpitched || one.lane.muted || one.parts.length === 0;
  const sums = new Float64Array(NOTES);
  const each = Array.from({ length: bars }, (_, bar) => {
    const sum = new Float64Array(NOTES);
    if (isSilent) return sum;
    const count = chroma.rows.length / NOTES;
    for (let look = 0; look < LOOKS; look++) {
      const time = heardIn(one, beatTime(grid, (bar + (look + 0.5) / LOOKS) * size));
      if (time === null) continue;
      const row = Math.max(0, Math.min(count - 1, Math.floor(time * chroma.rate)));
      for (let note = 0; note < NOTES; note++) sum[note] += chroma.rows[row * NOTES + note];
    }
    for (let note = 0; note < NOTES; note++) sums[note] += sum[note];
    return moved(notesOf(sum), shift);
  });
  return { laneId: one.lane.laneId, bars: each, whole: moved(notesOf(sums), shift), isSilent };
}

/** Two notes of two lanes a semitone apart, and the bars in which they are heard together. */
interface Clash {
  lanes: [string, string];
  notes: [string, string];
  /** First and last bar, from 1. */
  from: number;
  to: number;
  /** In how many bars. */
  count: number;
  figure: number;
}

export interface Agreement {
  /** All of it, 0 … 1: the mean over bars of the worst pair; null where fewer than two have a pitch. */
  clash: number | null;
  shared: number | null;
  /** The same bar by bar; null where fewer than two sound. */
  bars: (number | null)[];
  clashes: Clash[];
  /** Notes that all have, by name. */
  common: string[];
}

/** Whether lanes agree in harmony, bar by bar and as a whole. */
export function agreementOf(lanes: readonly LaneHarmony[], key: Key | null): Agreement {
  const pitched = lanes.filter(({ isSilent }) => !isSilent);
  const pairs = pitched.flatMap((a, i) => pitched.slice(i + 1).map((b) => [a, b] as const));
  const sounds = (notes: Notes) => notes.some((one) => one > 0);
  const count = Math.max(0, ...pitched.map(({ bars }) => bars.length));
  const bars = Array.from({ length: count }, (_, bar) => {
    const found = pairs.filter(([a, b]) => sounds(a.bars[bar]) && sounds(b.bars[bar]));
    return found.length === 0 ? null : Math.max(...found.map(([a, b]) => clashOf(a.bars[bar], b.bars[bar])));
  });
  const told = bars.filter((one) => one !== null);
  const clashes = pairs
    .flatMap(([a, b]) => clashBetween(a, b, key))
    .sort((a, b) => b.figure * b.count - a.figure * a.count);
  const heard = pitched.filter(({ whole }) => sounds(whole));
  const common = Array.from({ length: NOTES }, (_, note) => note).filter(
    (note) => heard.length > 1 && heard.every(({ whole }) => whole[note] > 0.05),
  );
  return {
    clash: told.length === 0 ? null : told.reduce((a, b) => a + b, 0) / told.length,
    shared:
      pairs.length === 0
        ? null
        : pairs.reduce((sum, [a, b]) => sum + sharedOf(a.whole, b.whole), 0) / pairs.length,
    ...{ bars, clashes },
    common: common.map((note) => noteName(note, key ?? C)),
  };
}

function clashBetween(a: LaneHarmony, b: LaneHarmony, key: Key | null): Clash[] {
  const clashing = a.bars.map((notes, bar) => clashOf(notes, b.bars[bar]));
  const where = clashing.flatMap((figure, bar) => (figure >= CLASHES_FROM ? [bar] : []));
  if (where.length === 0) return [];
  let best: [number, number] = [0, 1];
  let most = -1;
  for (let note = 0; note < NOTES; note++)
    for (const other of [(note + 1) % NOTES, (note + 11) % NOTES]) {
      const weight = where.reduce((sum, bar) => sum + a.bars[bar][note] * b.bars[bar][other], 0);
      if (weight > most) [most, best] = [weight, [note, other]];
    }
  return [
    {
      lanes: [a.laneId, b.laneId],
      notes: [noteName(best[0], key ?? C), noteName(best[1], key ?? C)],
      ...{ from: where[0] + 1, to: where[where.length - 1] + 1, count: where.length },
      figure: where.reduce((sum, bar) => sum + clashing[bar], 0) / where.length,
    },
  ];
}

/** One way of moving a lane, and what comes of it. */
export interface Move {
  semitones: number;
  clash: number;
  strain: number;
}

/** A clash of 1 weighs as much as this strain. */
const STRAIN_OF_CLASH = 3;

/**
 * The transpositions of a lane within an octave, best first: by its clash with the others, bar by bar, and by how far it is bent.
 * `now`: what it is moved by now, semitones.
 */
export function movesOf(
  lane: LaneHarmony,
  others: readonly LaneHarmony[],
  now: number,
  ratio: number,
): Move[] {
  const heard = others.filter(({ isSilent }) => !isSilent);
  const all = Array.from({ length: 23 }, (_, i) => i - 11).map((semitones) => {
    let sum = 0;
    let count = 0;
    for (const other of heard)
      lane.bars.forEach((notes, bar) => {
        if (!notes.some((one) => one > 0) || !other.bars[bar]?.some((one) => one > 0)) return;
        sum += clashOf(moved(notes, semitones - now), other.bars[bar]);
        count++;
      });
    return { semitones, clash: count === 0 ? 0 : sum / count, strain: strainOf({ ratio, semitones }) };
  });
  const cost = ({ clash, strain }: Move) => STRAIN_OF_CLASH * clash + strain;
  return all.sort((a, b) => cost(a) - cost(b));
}
