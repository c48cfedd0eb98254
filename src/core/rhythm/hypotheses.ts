import { BAR_SIZES, barHypotheses, BARS, thirdsAgainstHalves, type BarHypothesis } from './bars';
import { logSumExp } from '../weights/logSumExp';
import { weighing, type Observed } from '../weights/weights';
import { lengthLattices, makeLattices, type Lattice } from './lattice';
import { REGISTERS, type OnsetFeatures } from './onsetFeatures';
import type { Onset } from './onsets';
import {
  makeEvidence,
  PLACES,
  RAISED_BY,
  readPatterns,
  type BeatPatterns,
  type ChromaFrames,
} from './patterns';
import {
  LONGEST_LOOP_SECONDS,
  makeSpanEvidence,
  spanHypotheses,
  type SpanEvidence,
  type SpanHypothesis,
} from './spans';
import { recordingContext, type RecordingContext } from './recordingContext';
import { combSalience, tempoCandidates } from './tempoCandidates';
import { periodicity, type Periodicity } from './tempogram';

/** What the caller allows and prefers. */
export interface RhythmOptions {
  /** Tempi outside are not considered, BPM. */
  range?: { low: number; high: number };
  /** What somebody says that the tempo is, and how sure that is, 0 … 1. */
  expected?: { bpm: number; sureness: number };
  /** Log odds of a tempo in the library that the recording comes to (`libraryTempi`). */
  library?: (bpm: number) => number;
  /** When given, only this time signature is considered. */
  meter?: { beatsPerBar: number; beatUnit: number };
  /** Played freely: bars are not equally long, so that stretches of equal bars tell nothing of them. */
  free?: boolean;
}

/** What rhythm is decided from. */
export interface RhythmInput {
  durationSeconds: number;
  features: OnsetFeatures;
  onsets: readonly Onset[];
  chords: ChromaFrames;
  bass: ChromaFrames;
  /** Share of the energy in lasting tones, 0 (drums alone) … 1 (tones alone). */
  tonal: number;
  /** From the first to the last sound, seconds. */
  active: { start: number; end: number };
}

/** A bar hypothesis with the stretches of whole bars that it gives a short recording, best first. */
export interface BarChoice extends BarHypothesis {
  spans: SpanHypothesis[];
  /** Of the bar and all its spans. */
  score: number;
  /** Share of belief among all bars on the same lattice, 0 … 1. */
  belief: number;
}

/** One complete explanation of the rhythm: beats, how they form bars, and how well the evidence bears it. */
export interface RhythmHypothesis extends Lattice {
  bar: BarChoice;
  /** All ways to form bars, best first. */
  bars: BarChoice[];
  /** What LEVELS weighs. */
  observed: Observed;
  /** Of the recording, by which weights lean. */
  context: RecordingContext;
  score: number;
  /** Log odds that it has because the library has such tempi. */
  fromLibrary: number;
  /** Share of belief among all hypotheses, 0 … 1. */
  sureness: number;
}

const SEEDS = 5;
/** Log odds that a tempo gains by being what somebody says for sure. */
const SAID = 3;
/** Of hits a second, as a logarithm to the base 2. */
const USUAL_DENSITY = 2.6;
/** How near a tempo is to a whole number that was set as one, BPM. */
const WHOLE_NUMBER_BPM = 0.04;
/** Tempi are held against this one, BPM, and outside these bounds told apart no more. */
const MIDDLE_BPM = 110;
const TOLD_APART_BPM = { slowest: 50, fastest: 290 };

export const LEVELS = weighing('levels', [
  'salience',
  'repeat1',
  'repeat2',
  'repeat3',
  'repeat4',
  'repeatHalf',
  'repeatThird',
  'fourier1',
  'fourier2',
  'fourier3',
  'fourier4',
  'moving',
  'cut',
  'startsOn',
  'thirds',
  'thirds.tonal',
  'thirds.short',
  'thirds.tonalShort',
  'spread',
  'hits',
  'chordOn',
  'bassOn',
  'chordRate',
  'straight',
  'triplet',
  'triplet.tonal',
  'triplet.tonalShort',
  'onBeats',
  'length',
  'density',
  'density.tempo',
  'flatness',
  'tonal',
  'whole',
  'evidence',
  'movingGain',
  'steadyLoss',
  'tempo',
  'tempo.square',
  'tempo.cube',
  ...Array.from({ length: REGISTERS }, (_, r) =>
    ['on', 'half', 'quarters', 'thirds', 'late', 'alternation'].map((name) => `${name}.${r}`),
  ).flat(),
]);
const AT_REGISTERS = LEVELS.indexOf('on.0');

/**
 * Explains the whole recording by every lattice of beats and every way to form bars of them, and ranks the
 * explanations by observations that tell metrical levels and places apart: one joint decision over tempo,
 * beats, bars and loop bounds. Best first; empty when nothing repeats.
 */
export function rhythmHypotheses(input: RhythmInput, options: RhythmOptions = {}): RhythmHypothesis[] {
  const { durationSeconds: seconds, features, onsets } = input;
  const { range, expected } = options;
  const allowed = (bpm: number) => !range || (bpm >= range.low - 0.05 && bpm <= range.high + 0.05);
  const periodic = periodicity(features.strength);
  const seeds = tempoCandidates(periodic, SEEDS);
  if (expected) seeds.push({ bpm: expected.bpm, salience: combSalience(periodic, expected.bpm) });
  const lattices = [
    ...makeLattices(features.strength, onsets, periodic, seeds, seconds, allowed),
    ...(seconds < LONGEST_LOOP_SECONDS ? lengthLattices(seconds, allowed) : []),
  ];
  const evidence = makeEvidence(features, input.chords, input.bass);
  const sizes = options.meter ? [feltSize(options.meter)] : BAR_SIZES;
  const spanEvidence = makeSpanEvidence(seconds, features, onsets, input.active);
  const context = recordingContext(seconds, options.free ?? false);
  const surroundings = {
    short: seconds < LONGEST_LOOP_SECONDS,
    flatness: features.flatness,
    tonal: input.tonal,
  };
  const hypotheses = lattices
    .filter(({ beats }) => beats.length >= 2)
    .map((lattice): RhythmHypothesis => {
      const patterns = readPatterns(evidence, lattice.beats);
      const heard = firstHeard(lattice.beats, spanEvidence.soundStart);
      const period = 60 / lattice.bpm;
      const repeats = (beats: number) => periodic.at(beats * period);
      const bars = believedBars(
        barHypotheses(patterns, lattice.bpm, sizes, heard, { ...surroundings, repeats }).map((bar) =>
          withSpans(bar, lattice, spanEvidence, context, options.free),
        ),
      );
      return {
        ...lattice,
        bar: bars[0],
        bars,
        observed: observe(lattice, patterns, evidence.means, periodic, spanEvidence, input.tonal),
        context,
        score: 0,
        fromLibrary: options.library?.(lattice.bpm) ?? 0,
        sureness: 0,
      };
    });
  compareSteadyAndMoving(hypotheses);
  for (const hypothesis of hypotheses) {
    const { bpm, observed, bars, fromLibrary } = hypothesis;
    const said = expected && Math.abs(bpm / expected.bpm - 1) < 0.01 ? SAID * expected.sureness : 0;
    const heard = LEVELS.score(observed, context) + logSumExp(bars.map(({ score }) => score));
    hypothesis.score = heard + said + LEVELS.temperature * fromLibrary;
  }
  const tempered = hypotheses.map(({ score }) => score / LEVELS.temperature);
  const all = logSumExp(tempered);
  hypotheses.forEach((hypothesis, i) => (hypothesis.sureness = Math.exp(tempered[i] - all)));
  return hypotheses.sort((a, b) => b.score - a.score);
}

/**
 * Steady and moving beats of one level look at each other: a player is only worth following where that
 * explains more than the best steady grid.
 */
function compareSteadyAndMoving(hypotheses: readonly RhythmHypothesis[]) {
  const onBeats = LEVELS.indexOf('evidence');
  const bestOther = ({ bpm, steady }: RhythmHypothesis) =>
    Math.max(
      ...hypotheses
        .filter((other) => other.steady !== steady && Math.abs(Math.log(other.bpm / bpm)) < 0.04)
        .map(({ observed }) => observed[onBeats]),
    );
  for (const hypothesis of hypotheses) {
    const other = bestOther(hypothesis);
    if (other === -Infinity) continue;
    const gain = hypothesis.observed[onBeats] - other;
    hypothesis.observed[LEVELS.indexOf(hypothesis.steady ? 'steadyLoss' : 'movingGain')] = gain;
  }
}

/** Beats in a bar as they are felt: two in 6/8. */
function feltSize({ beatsPerBar, beatUnit }: { beatsPerBar: number; beatUnit: number }): number {
  return beatUnit >= 8 && beatsPerBar % 3 === 0 && beatsPerBar > 3 ? beatsPerBar / 3 : beatsPerBar;
}

/** Bars on one lattice, best first, with what is believed of each. */
export function believedBars(bars: readonly Omit<BarChoice, 'belief'>[]): BarChoice[] {
  const tempered = bars.map(({ score }) => score / BARS.temperature);
  const all = logSumExp(tempered);
  return bars
    .map((bar, i) => ({ ...bar, belief: Math.exp(tempered[i] - all) }))
    .sort((a, b) => b.score - a.score);
}

const NO_SPAN = BARS.indexOf('noSpan');

/** The bar with its spans, whose beliefs add up: each is one way how the bar might be meant. */
function withSpans(
  bar: BarHypothesis,
  lattice: Lattice,
  evidence: SpanEvidence,
  context: RecordingContext,
  free = false,
): Omit<BarChoice, 'belief'> {
  if (evidence.seconds >= LONGEST_LOOP_SECONDS)
    return { ...bar, spans: [], score: BARS.score(bar.observed, context) };
  const downbeat = lattice.beats[Math.min(bar.phase, lattice.beats.length - 1)];
  const spans = spanHypotheses(evidence, downbeat, bar.beatsPerBar * (60 / lattice.bpm), context);
  const weighed = !free && spans.length > 0;
  bar.observed[NO_SPAN] = !free && spans.length === 0 ? 1 : 0;
  const ofSpans = weighed ? logSumExp(spans.map(({ score }) => score)) : 0;
  return { ...bar, spans, score: BARS.score(bar.observed, context) + ofSpans };
}

/** Index of the first beat that is not clearly before the first hit. */
function firstHeard(beats: Float64Array, soundStart: number): number {
  const period = beats[1] - beats[0];
  return Math.max(
    0,
    beats.findIndex((beat) => beat >= soundStart - 0.2 * period),
  );
}

function observe(
  lattice: Lattice,
  patterns: BeatPatterns,
  means: readonly number[],
  periodic: Periodicity,
  { seconds, soundStart, times, weights, features }: SpanEvidence,
  tonal: number,
): Observed {
  const { beats, bpm } = lattice;
  const period = 60 / bpm;
  const tempo = Math.log2(
    Math.max(TOLD_APART_BPM.slowest, Math.min(TOLD_APART_BPM.fastest, bpm)) / MIDDLE_BPM,
  );
  const short = seconds < LONGEST_LOOP_SECONDS;
  const tonalShort = short ? tonal : 0;
  const density = Math.log2(1 + times.length / seconds);
  const thirds = thirdsAgainstHalves(patterns);
  const shares = explainedShares(beats, times, weights);
  const observed = LEVELS.vector({
    salience: Math.log(lattice.salience + 0.02),
    repeat1: periodic.at(period),
    repeat2: periodic.at(2 * period),
    repeat3: periodic.at(3 * period),
    repeat4: periodic.at(4 * period),
    repeatHalf: periodic.at(period / 2),
    repeatThird: periodic.at(period / 3),
    fourier1: periodic.fourierAt(period) / 10,
    fourier2: periodic.fourierAt(period / 2) / 10,
    fourier3: periodic.fourierAt(period / 3) / 10,
    fourier4: periodic.fourierAt(period / 4) / 10,
    moving: lattice.origin === 'player' ? 1 : 0,
    cut: lattice.origin === 'length' ? 1 : 0,
    startsOn: beats.some((beat) => Math.abs(beat - soundStart) < 0.04) ? 1 : 0,
    thirds,
    'thirds.tonal': thirds * tonal,
    'thirds.short': short ? thirds : 0,
    'thirds.tonalShort': thirds * tonalShort,
    spread: lattice.fit ? Math.min(30, lattice.fit.spreadMs) / 10 : 1.5,
    hits: lattice.fit ? Math.min(2, lattice.fit.hits / beats.length) : 0,
    chordOn: meanOf(patterns.chordChange) - meanOf(patterns.chordChangeHalf),
    bassOn: meanOf(patterns.bassChange) - meanOf(patterns.bassChangeHalf),
    chordRate: meanOf(patterns.chordChange),
    ...shares,
    'triplet.tonal': shares.triplet * tonal,
    'triplet.tonalShort': shares.triplet * tonalShort,
    length: Math.log2(Math.min(60, seconds) / 8),
    density,
    'density.tempo': (density - USUAL_DENSITY) * Math.log2(bpm / MIDDLE_BPM),
    flatness: features.flatness,
    tonal,
    evidence: evidenceOnBeats(patterns),
    // A prior with few degrees of freedom: more of them learn the tempi of single recordings.
    tempo,
    'tempo.square': tempo ** 2,
    'tempo.cube': tempo ** 3,
    whole: Math.exp(-(((bpm - Math.round(bpm)) / WHOLE_NUMBER_BPM) ** 2)),
  });
  const level = (place: number, register: number) => {
    let sum = 0;
    for (let k = 0; k < patterns.beats; k++)
      sum += patterns.onsets[(k * PLACES.length + place) * REGISTERS + register];
    return Math.log((sum / patterns.beats + RAISED_BY) / (means[register] + RAISED_BY));
  };
  for (let r = 0; r < REGISTERS; r++) {
    const [on, quarter, third, half, twoThirds, threeQuarters] = PLACES.map((_, place) => level(place, r));
    const of = [
      on,
      half - on,
      (quarter + threeQuarters) / 2 - on,
      (third + twoThirds) / 2 - on,
      Math.max(twoThirds, threeQuarters) - Math.max(third, quarter),
      alternation(patterns, r),
    ];
    of.forEach((value, i) => (observed[AT_REGISTERS + r * of.length + i] = value));
  }
  return observed;
}

/** Logarithm of the mean evidence on beats, all registers together. */
function evidenceOnBeats({ onsets, beats }: BeatPatterns): number {
  let sum = 0;
  for (let k = 0; k < beats; k++)
    for (let r = 0; r < REGISTERS; r++) sum += onsets[k * PLACES.length * REGISTERS + r];
  return Math.log(sum / (beats * REGISTERS) + RAISED_BY);
}

/** Shares of the hits that stand on sixteenths, on thirds, and on beats. */
function explainedShares(beats: Float64Array, times: Float64Array, weights: Float64Array) {
  let straight = 0;
  let triplet = 0;
  let onBeats = 0;
  let all = 0;
  let k = 0;
  for (let i = 0; i < times.length; i++) {
    while (k + 2 < beats.length && beats[k + 1] <= times[i]) k++;
    const interval = beats[k + 1] - beats[k];
    const position = (times[i] - beats[k]) / interval;
    const within = Math.min(0.03 / interval, 0.08);
    const near = (steps: number) =>
      Math.abs(position * steps - Math.round(position * steps)) / steps < within;
    all += weights[i];
    if (near(4)) straight += weights[i];
    if (near(3)) triplet += weights[i];
    if (near(1)) onBeats += weights[i];
  }
  const scale = 1 / Math.max(1e-9, all);
  return { straight: straight * scale, triplet: triplet * scale, onBeats: onBeats * scale };
}

/** How differently a register sounds on even and odd beats, 0 … 1: a backbeat alternates. */
function alternation({ onsets, beats }: BeatPatterns, register: number): number {
  const sums = [0, 0];
  for (let k = 0; k < beats; k++) sums[k % 2] += onsets[k * PLACES.length * REGISTERS + register];
  return Math.abs(sums[0] - sums[1]) / (sums[0] + sums[1] + 1e-9);
}

function meanOf(x: Float64Array): number {
  return x.length ? x.reduce((a, b) => a + b, 0) / x.length : 0;
}
