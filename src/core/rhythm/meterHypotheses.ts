import { barHypotheses, type BarHypothesis } from './bars';
import { beatEvidence, harmonicChangeAt, strongestNear, type ChromaFrames } from './beatEvidence';
import { STIFF, SUPPLE, trackBeats } from './beatTracking';
import { FRAME_RATE, type OnsetFeatures } from './onsetFeatures';
import type { Onset } from './onsets';
import { fitSteady, type SteadyFit } from './steadyFit';
import { tempoCandidates } from './tempoCandidates';
import type { Periodicity } from './tempogram';
import { LEVEL_WEIGHTS, weighed } from './evidenceWeights';

/** What the caller allows and prefers. */
export interface RhythmOptions {
  /** Tempi outside are not considered, BPM. */
  range?: { low: number; high: number };
  /** When given, only this meter is considered. */
  meter?: { beatsPerBar: number; beatUnit: number };
}

/** One complete explanation of the rhythm: beats, how they form bars, and how well the evidence bears it. */
export interface RhythmHypothesis {
  bpm: number;
  beats: Float64Array;
  /** The beats come from one steady grid. */
  steady: boolean;
  fit: SteadyFit | null;
  bar: BarHypothesis;
  /** All ways to form bars, best first. */
  bars: BarHypothesis[];
  barSureness: number;
  beatUnit: number;
  /** Named observations that the score is a weighted sum of. */
  observations: Record<string, number>;
  score: number;
  /** Share of belief among all hypotheses, 0 … 1. */
  sureness: number;
}

const CANDIDATES = 9;
const FELT_BPM = 112;
const FELT_SPREAD = 0.42;

/**
 * Explains the whole recording by each tempo candidate (beats, steady or moving, bars) and ranks the
 * explanations by observations that tell metrical levels apart: a joint decision over tempo, beats and
 * bars instead of one after the other. Best first; empty when nothing repeats.
 */
export function rhythmHypotheses(
  features: OnsetFeatures,
  onsets: readonly Onset[],
  chroma: ChromaFrames,
  periodic: Periodicity,
  options: RhythmOptions = {},
): RhythmHypothesis[] {
  const seconds = features.frames / FRAME_RATE;
  const soundStart = onsets[0]?.time ?? 0;
  const inRange = (bpm: number) => !options.range || (bpm >= options.range.low && bpm <= options.range.high);
  let candidates = tempoCandidates(periodic, CANDIDATES);
  if (options.range) {
    const { low, high } = options.range;
    candidates = candidates.flatMap((candidate) => {
      const folded = [1, 2, 0.5, 3, 1 / 3, 4, 0.25]
        .map((ratio) => candidate.bpm * ratio)
        .find((bpm) => bpm >= low && bpm <= high);
      return folded ? [{ ...candidate, bpm: folded }] : [];
    });
    candidates = candidates.filter(
      (a, i) => candidates.findIndex((b) => Math.abs(Math.log(a.bpm / b.bpm)) < 0.02) === i,
    );
  }
  const strongest = Math.max(1e-9, ...candidates.map((candidate) => candidate.salience));
  const hypotheses: RhythmHypothesis[] = [];
  for (const candidate of candidates) {
    if (60 / candidate.bpm > seconds / 2) continue;
    for (const { beats, fit, steady } of layBeats(features, onsets, candidate.bpm, seconds)) {
      if (beats.length < 2) continue;
      const bpm = steady && fit ? fit.bpm : typicalBpm(beats);
      if (!inRange(bpm) && !inRange(Math.round(bpm * 10) / 10)) continue;
      const evidence = beatEvidence(features, chroma, beats);
      const observations = observe(features, periodic, beats, bpm, candidate.salience / strongest);
      const compound = observations.third > observations.half + 0.2 && bpm < 130;
      const sizes = options.meter ? [options.meter.beatsPerBar] : compound ? [2, 3, 4] : [3, 4];
      const bars = barHypotheses(evidence, sizes, firstHeard(beats, soundStart, 60 / bpm));
      const best = bars[0];
      const beliefs = bars.map((bar) => Math.exp(bar.score - best.score));
      observations.bars = best.score;
      observations.startsOn = beats.some((beat) => Math.abs(beat - soundStart) < 0.05) ? 1 : 0;
      observations.changeOn = meanOf(evidence.harmonicChange) - meanOf(offBeatChange(chroma, beats));
      observations.constant = 1;
      const score = weighed(observations, LEVEL_WEIGHTS);
      hypotheses.push({
        bpm,
        beats,
        steady,
        fit,
        bar: best,
        bars,
        barSureness: 1 / beliefs.reduce((a, b) => a + b, 0),
        beatUnit: options.meter?.beatUnit ?? 4,
        observations,
        score,
        sureness: 0,
      });
    }
  }
  hypotheses.sort((a, b) => b.score - a.score);
  const beliefs = hypotheses.map((hypothesis) => Math.exp(hypothesis.score - hypotheses[0].score));
  const sum = beliefs.reduce((a, b) => a + b, 0);
  hypotheses.forEach((hypothesis, i) => (hypothesis.sureness = beliefs[i] / sum));
  return hypotheses;
}

/** How much the harmony changes between beats. */
function offBeatChange(chroma: ChromaFrames, beats: Float64Array): Float64Array {
  return harmonicChangeAt(
    chroma,
    beats.map((beat, k) => (beat + (beats[k + 1] ?? 2 * beat - beats[k - 1])) / 2),
    1,
  );
}

function meanOf(x: Float64Array): number {
  return x.length ? x.reduce((a, b) => a + b, 0) / x.length : 0;
}

/** Index of the first beat that is not clearly before the first hit. */
function firstHeard(beats: Float64Array, soundStart: number, period: number): number {
  return Math.max(
    0,
    beats.findIndex((beat) => beat >= soundStart - 0.2 * period),
  );
}

/** How much of the moving grid's evidence the steady one must explain to be taken: steadiness is the rule. */
const STEADY_SHARE = 0.88;

/** The ways to lay beats at a tempo: a steady grid on the beat or on the off-beat, or one that follows the player. */
function layBeats(
  features: OnsetFeatures,
  onsets: readonly Onset[],
  bpm: number,
  seconds: number,
): { beats: Float64Array; fit: SteadyFit | null; steady: boolean }[] {
  const stiff = trackBeats(features.strength, bpm, STIFF);
  const fit = fitSteady(onsets, stiff);
  const steadyBeats = fit ? gridBeats(fit.anchor, 60 / fit.bpm, seconds) : null;
  const supple = seconds > 6 ? trackBeats(features.strength, bpm, SUPPLE) : stiff;
  const steadyShare = steadyBeats
    ? meanStrength(features, steadyBeats) / Math.max(1e-9, meanStrength(features, supple))
    : 0;
  if (!fit || !steadyBeats || steadyShare < STEADY_SHARE) return [{ beats: supple, fit, steady: false }];
  // Where off-beats are as strong as beats the tracker may sit on either: both stand to be judged.
  const shifted = { ...fit, anchor: fit.anchor + 30 / fit.bpm };
  return [fit, shifted].map((grid) => ({
    beats: gridBeats(grid.anchor, 60 / grid.bpm, seconds),
    fit: grid,
    steady: true,
  }));
}

/** Beats of a steady grid that fall inside the recording (with 30 ms of grace at its beginning). */
export function gridBeats(anchor: number, period: number, seconds: number): Float64Array {
  const first = Math.ceil((-0.03 - anchor) / period);
  const last = Math.floor((seconds - 0.02 - anchor) / period);
  return Float64Array.from(
    { length: Math.max(0, last - first + 1) },
    (_, i) => anchor + (first + i) * period,
  );
}

function meanStrength(features: OnsetFeatures, beats: Float64Array): number {
  let sum = 0;
  for (const beat of beats) sum += Math.min(6, strongestNear(features.strength, beat, 2));
  return sum / beats.length;
}

function typicalBpm(beats: Float64Array): number {
  return (60 * (beats.length - 1)) / (beats[beats.length - 1] - beats[0]);
}

function observe(
  features: OnsetFeatures,
  periodic: Periodicity,
  beats: Float64Array,
  bpm: number,
  salience: number,
): Record<string, number> {
  const period = 60 / bpm;
  const mean = (register: Float32Array, offset: number) => {
    let sum = 0;
    for (const beat of beats) sum += Math.min(8, strongestNear(register, beat + offset * period, 2));
    return sum / beats.length;
  };
  const on = mean(features.strength, 0);
  const half = mean(features.strength, 0.5);
  const third = (mean(features.strength, 1 / 3) + mean(features.strength, 2 / 3)) / 2;
  const quarter = (mean(features.strength, 0.25) + mean(features.strength, 0.75)) / 2;
  const alternation = (register: Float32Array) => {
    let even = 0;
    let odd = 0;
    beats.forEach((beat, k) => {
      const value = Math.min(8, strongestNear(register, beat, 2));
      if (k % 2 === 0) even += value;
      else odd += value;
    });
    return Math.abs(even - odd) / (even + odd + 1e-9);
  };
  const distance = Math.log(bpm / FELT_BPM) / FELT_SPREAD;
  return {
    felt: -0.5 * distance * distance,
    fast: Math.max(0, Math.log(bpm / 160)),
    slow: Math.max(0, Math.log(75 / bpm)),
    salience: Math.log(salience + 0.02),
    on: Math.log(on + 0.2),
    half: Math.log((half + 0.2) / (on + 0.2)),
    third: Math.log((third + 0.2) / (on + 0.2)),
    quarter: Math.log((quarter + 0.2) / (on + 0.2)),
    low: Math.log(mean(features.low, 0) + 0.2),
    lowHalf: Math.log((mean(features.low, 0.5) + 0.2) / (mean(features.low, 0) + 0.2)),
    midHalf: Math.log((mean(features.mid, 0.5) + 0.2) / (mean(features.mid, 0) + 0.2)),
    alternationLow: alternation(features.low),
    alternationMid: alternation(features.mid),
    repeat1: periodic.at(period),
    repeat2: periodic.at(2 * period),
    repeat3: periodic.at(3 * period),
    repeat4: periodic.at(4 * period),
  };
}
