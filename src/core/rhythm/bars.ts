import { weighing, type Observed } from '../weights/weights';
import { REGISTERS } from './onsetFeatures';
import { NOVELTY_BEATS, NOVELTY_KINDS, PLACES, RAISED_BY, type BeatPatterns } from './patterns';

/** How beats form bars: `phase` is the number of beats before the first downbeat. */
export interface BarHypothesis {
  beatsPerBar: number;
  phase: number;
  observed: Observed;
}

/** Beats in a bar that are tried; two stand for 6/8, whose beats are dotted quarters. */
export const BAR_SIZES = [2, 3, 4, 5, 7] as const;
const HALF = PLACES.indexOf(1 / 2);
const THIRDS = [PLACES.indexOf(1 / 3), PLACES.indexOf(2 / 3)];

/** Sizes whose patterns are known well enough to be looked at beat by beat; of others only the contrast between
 * the downbeat and the rest. */
const PATTERNED = BAR_SIZES.filter((size) => size < 5);
const placesOf = (size: number) => (size === 2 ? [0, ...THIRDS] : size < 5 ? [0, HALF] : [0]);
const patternName = (size: number, beat: number) => (size < 5 ? `bar${size}.${beat}` : 'rare');

/**
 * Of each kind and reach: the downbeat's novelty above the mean of the other beats, and above the most of them;
 * and its share of the greatest changes in the piece, which are where parts begin.
 */
const NOVELTIES = NOVELTY_BEATS.flatMap((span) =>
  NOVELTY_KINDS.flatMap((kind) =>
    (['mean', 'most', 'parts'] as const).map((beside) => `novelty.${kind}.${span}.${beside}` as const),
  ),
);

export const BARS = weighing('bars', [
  ...BAR_SIZES.flatMap((size) => [
    `size${size}`,
    `size${size}.tempo`,
    `size${size}.short`,
    `size${size}.flatness`,
    `size${size}.tonal`,
    `size${size}.tonalShort`,
  ]),
  'size2.thirds',
  'repetition',
  'repetition2',
  'repeatBar',
  'repeatBar2',
  'firstOn',
  'firstBefore',
  'chord',
  'bass',
  'low',
  'noSpan',
  'tempo',
  'density',
  ...NOVELTIES,
  ...PATTERNED.flatMap((size) =>
    placesOf(size).flatMap((_, p) => Array.from({ length: REGISTERS }, (_, r) => `bar${size}.all.${p}.${r}`)),
  ),
  ...[...PATTERNED, 5].flatMap((size) =>
    Array.from({ length: size < 5 ? size : 2 }, (_, beat) => patternName(size, beat))
      .filter((_, beat) => size < 5 || beat === 0)
      .flatMap((name) => [
        ...placesOf(size).flatMap((_, p) => Array.from({ length: REGISTERS }, (_, r) => `${name}.${p}.${r}`)),
        `${name}.chord`,
        `${name}.bass`,
      ]),
  ),
]);
const AT = {
  repetition: BARS.indexOf('repetition'),
  repetition2: BARS.indexOf('repetition2'),
  repeatBar: BARS.indexOf('repeatBar'),
  firstOn: BARS.indexOf('firstOn'),
  firstBefore: BARS.indexOf('firstBefore'),
  chord: BARS.indexOf('chord'),
  bass: BARS.indexOf('bass'),
  low: BARS.indexOf('low'),
  thirds: BARS.indexOf('size2.thirds'),
  tempo: BARS.indexOf('tempo'),
  density: BARS.indexOf('density'),
  novelty: BARS.indexOf(NOVELTIES[0]),
  size: (size: number) => BARS.indexOf(`size${size}`),
  pattern: (size: number, beat: number) => BARS.indexOf(`${patternName(size, beat)}.0.0`),
  all: (size: number) => BARS.indexOf(`bar${size}.all.0.0`),
};

/** What is known of the recording beside its beats. */
interface Surroundings {
  short: boolean;
  flatness: number;
  tonal: number;
  /** How much the evidence repeats after so many beats, as an autocorrelation. */
  repeats(beats: number): number;
}

/**
 * All ways to group the beats of a lattice into bars of the given sizes. What is observed is the folded bar:
 * the mean evidence of every beat and off-beat of the bar in each register against that at the downbeat
 * (after the rhythmic patterns of Krebs, Böck & Widmer 2013), where harmony and bass change, and whether
 * beats repeat after a bar. `firstHeard` is the index of the first beat with sound. That a short recording has no
 * room for such a bar (`noSpan`) is for the caller to say.
 */
export function barHypotheses(
  patterns: BeatPatterns,
  bpm: number,
  sizes: readonly number[],
  firstHeard: number,
  { short, flatness, tonal, repeats }: Surroundings,
): BarHypothesis[] {
  const lags = new Set([...USUAL_LAGS, ...sizes, ...sizes.map((size) => 2 * size)]);
  const repetition = repetitionByLag(patterns, lags);
  const typical = USUAL_LAGS.reduce((sum, lag) => sum + repetition[lag], 0) / USUAL_LAGS.length;
  let sum = 0;
  for (const value of patterns.onsets) sum += value;
  const density = Math.log(sum / patterns.onsets.length + RAISED_BY);
  const hypotheses: BarHypothesis[] = [];
  const novelties = sizes.reduce<Record<number, FoldedNovelty[]>>(
    (all, size) => ({ ...all, [size]: foldNovelty(patterns, size) }),
    {},
  );
  const offBeat = playedOffBeat(patterns);
  for (const size of sizes) {
    const [repeatBar, repeatBar2] = [repeats(size), repeats(2 * size)];
    const places = placesOf(size).map((place) => (place === HALF ? offBeat : place));
    const folded = foldBars(patterns, size, places);
    for (let phase = 0; phase < size; phase++) {
      const observed = new Float64Array(BARS.names.length);
      observed[AT.size(size)] = 1;
      observed[AT.size(size) + 1] = Math.log2(bpm / 110);
      observed[AT.size(size) + 2] = short ? 1 : 0;
      observed[AT.size(size) + 3] = flatness;
      observed[AT.size(size) + 4] = tonal;
      observed[AT.size(size) + 5] = short ? tonal : 0;
      observed[AT.tempo] = Math.log2(bpm / 110);
      observed[AT.density] = density;
      observed[AT.repetition] = repetition[size] - typical;
      observed[AT.repetition2] = repetition[2 * size] - typical;
      observed[AT.repeatBar] = repeatBar;
      observed[AT.repeatBar + 1] = repeatBar2;
      observed[AT.firstOn] = firstHeard % size === phase ? 1 : 0;
      observed[AT.firstBefore] = firstHeard % size === (phase + size - 1) % size ? 1 : 0;
      if (size === 2) observed[AT.thirds] = thirdsAgainstHalves(patterns);
      const one = folded[phase % size];
      observed.set(noveltyBeside(novelties[size], phase), AT.novelty);
      for (let beat = 0; beat < size; beat++) {
        const here = folded[(phase + beat) % size];
        const share = size < 5 ? 1 : 1 / (size - 1);
        const at = AT.pattern(size, beat);
        for (let p = 0; p < places.length; p++) {
          if (beat === 0 && p === 0) continue;
          for (let r = 0; r < REGISTERS; r++)
            observed[at + p * REGISTERS + r] += share * (here.onsets[p * REGISTERS + r] - one.onsets[r]);
        }
        if (beat === 0) continue;
        const chord = one.chordChange - here.chordChange;
        const bass = one.bassChange - here.bassChange;
        observed[at + places.length * REGISTERS] -= share * chord;
        observed[at + places.length * REGISTERS + 1] -= share * bass;
        observed[AT.chord] += chord / (size - 1);
        observed[AT.bass] += bass / (size - 1);
        observed[AT.low] += (one.onsets[0] - here.onsets[0]) / (size - 1);
      }
      if (size < 5) apartFromMean(observed, size, places.length);
      hypotheses.push({ beatsPerBar: size, phase, observed });
    }
  }
  return hypotheses;
}

/**
 * Takes from the pattern of a bar what all its beats have in common at a place, which is observed by itself: that
 * nothing is ever played between the beats is one observation and not one of every beat.
 */
function apartFromMean(observed: Observed, size: number, places: number) {
  for (let i = 0; i < places * REGISTERS; i++) {
    // The place of the one itself is what the others are held against.
    const from = i < REGISTERS ? 1 : 0;
    let mean = 0;
    for (let beat = from; beat < size; beat++) mean += observed[AT.pattern(size, beat) + i] / (size - from);
    observed[AT.all(size) + i] = mean;
    for (let beat = from; beat < size; beat++) observed[AT.pattern(size, beat) + i] -= mean;
  }
}

/** Novelty of each beat of a bar: its mean, and its share of the greatest changes. */
interface FoldedNovelty {
  mean: Float64Array;
  parts: Float64Array;
}

/** A list per reach and kind, in the order of NOVELTIES. */
function foldNovelty({ novelty, beats }: BeatPatterns, size: number): FoldedNovelty[] {
  return novelty.flatMap((kinds) =>
    NOVELTY_KINDS.map((kind) => {
      const values = kinds[kind];
      const mean = new Float64Array(size);
      const counts = new Float64Array(size);
      let sum = 0;
      let square = 0;
      // What stands before the first beat is unknown: there everything is new.
      for (let k = 1; k < beats; k++) {
        mean[k % size] += values[k];
        counts[k % size]++;
        sum += values[k];
        square += values[k] ** 2;
      }
      const n = Math.max(1, beats - 1);
      const spread = Math.sqrt(Math.max(1e-12, square / n - (sum / n) ** 2));
      const parts = new Float64Array(size);
      let all = 1e-9;
      for (let k = 1; k < beats; k++) {
        // Its neighbours see most of the same change.
        if (values[k] <= values[k - 1] || values[k] < (values[k + 1] ?? 0)) continue;
        const above = (values[k] - sum / n) / spread - 1;
        if (above <= 0) continue;
        parts[k % size] += above * above;
        all += above * above;
      }
      return {
        mean: mean.map((value, beat) => value / Math.max(1, counts[beat])),
        parts: parts.map((value) => value / all),
      };
    }),
  );
}

function noveltyBeside(folded: readonly FoldedNovelty[], phase: number): number[] {
  return folded.flatMap(({ mean, parts }) => {
    let sum = 0;
    let most = -Infinity;
    mean.forEach((value, beat) => {
      if (beat === phase) return;
      sum += value;
      most = Math.max(most, value);
    });
    const others = mean.length - 1;
    return [mean[phase] - sum / others, mean[phase] - most, parts[phase] - 1 / mean.length];
  });
}

interface FoldedBeat {
  /** Log of the mean evidence, `[place · REGISTERS + register]`. */
  onsets: Float64Array;
  chordChange: number;
  bassChange: number;
}

function foldBars(patterns: BeatPatterns, size: number, places: readonly number[]): FoldedBeat[] {
  return Array.from({ length: size }, (_, beat) => {
    const onsets = new Float64Array(places.length * REGISTERS);
    let chordChange = 0;
    let bassChange = 0;
    let count = 0;
    for (let k = beat; k < patterns.beats; k += size) {
      for (let p = 0; p < places.length; p++) {
        const from = (k * PLACES.length + places[p]) * REGISTERS;
        for (let r = 0; r < REGISTERS; r++) onsets[p * REGISTERS + r] += patterns.onsets[from + r];
      }
      chordChange += patterns.chordChange[k];
      bassChange += patterns.bassChange[k];
      count++;
    }
    const n = Math.max(1, count);
    return {
      onsets: onsets.map((sum) => Math.log(sum / n + RAISED_BY)),
      chordChange: chordChange / n,
      bassChange: bassChange / n,
    };
  });
}

/** The place where beats are divided: their half, or in swing two thirds, whichever is hit more. */
function playedOffBeat({ onsets, beats }: BeatPatterns): number {
  let later = 0;
  for (let k = 0; k < beats; k++) {
    const at = k * PLACES.length;
    for (let r = 0; r < REGISTERS; r++)
      later += onsets[(at + THIRDS[1]) * REGISTERS + r] - onsets[(at + HALF) * REGISTERS + r];
  }
  return later > 0 ? THIRDS[1] : HALF;
}

/** How much more is played on the thirds of beats than on their halves, as a log ratio. */
export function thirdsAgainstHalves({ onsets, beats }: BeatPatterns): number {
  let thirds = 0;
  let halves = 0;
  for (let k = 0; k < beats; k++) {
    for (let r = 0; r < REGISTERS; r++) {
      halves += onsets[(k * PLACES.length + HALF) * REGISTERS + r];
      for (const third of THIRDS) thirds += onsets[(k * PLACES.length + third) * REGISTERS + r] / 2;
    }
  }
  const n = Math.max(1, beats * REGISTERS);
  return Math.log((thirds / n + RAISED_BY) / (halves / n + RAISED_BY));
}

/** What repeats after a bar is held against the mean of what does after so many beats. */
const USUAL_LAGS = [1, 2, 3, 4, 5, 6, 7, 8];

/** Mean similarity of beats that are a lag apart, for each of the lags: their standardised onset patterns and chords. */
function repetitionByLag({ rows, chords, beats }: BeatPatterns, lags: Iterable<number>): number[] {
  const width = PLACES.length * REGISTERS;
  const likeness: number[] = [];
  for (const lag of lags) {
    const pairs = beats - lag;
    likeness[lag] = 0;
    if (pairs < 2) continue;
    let sum = 0;
    for (let i = 0, j = lag * width, end = pairs * width; i < end; i++, j++) sum += rows[i] * rows[j];
    let harmony = 0;
    for (let i = 0, j = lag * 12, end = pairs * 12; i < end; i++, j++) harmony += chords[i] * chords[j];
    likeness[lag] = sum / (pairs * width) + harmony / pairs;
  }
  return likeness;
}
