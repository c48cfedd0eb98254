import type { BeatEvidence } from './beatEvidence';
import { BAR_WEIGHTS, weighed } from './evidenceWeights';

/** How beats form bars: `phase` is the number of beats before the first downbeat. */
export interface BarHypothesis {
  beatsPerBar: number;
  phase: number;
  /** Named observations that the score is a weighted sum of. */
  observations: Record<string, number>;
  score: number;
}

/**
 * All ways to group beats into bars of the given sizes, best first. Kick drum and bass come on a downbeat,
 * the snare does not; harmony changes there more often than on any other beat; the pattern repeats from bar
 * to bar; and what is sampled usually begins with one: `firstHeard` is the index of the first beat with
 * sound.
 */
export function barHypotheses(
  evidence: BeatEvidence,
  sizes: readonly number[],
  firstHeard: number,
): BarHypothesis[] {
  const low = standardised(evidence.low);
  const strength = standardised(evidence.strength);
  const bright = standardised(sum(evidence.mid, evidence.high));
  const change = standardised(evidence.harmonicChange);
  const broad = standardised(evidence.broadHarmonicChange);
  const patterns = [low, bright, change];
  const hypotheses: BarHypothesis[] = [];
  for (const size of sizes) {
    const repetition = size < evidence.low.length / 2 ? repetitionAt(patterns, size) : 0;
    for (let phase = 0; phase < size; phase++) {
      const contrast = (x: Float64Array) => contrastAt(x, size, phase);
      const observations: Record<string, number> = {
        low: contrast(low),
        strength: contrast(strength),
        harmonicChange: contrast(change),
        broadHarmonicChange: contrast(broad),
        brightOn: contrast(bright),
        backbeat:
          size === 4
            ? (contrastAt(bright, 4, (phase + 1) % 4) + contrastAt(bright, 4, (phase + 3) % 4)) / 2
            : 0,
        repetition,
        first: firstHeard % size === phase ? 1 : 0,
        [`size${size}`]: 1,
      };
      const score = weighed(observations, BAR_WEIGHTS);
      hypotheses.push({ beatsPerBar: size, phase, observations, score });
    }
  }
  return hypotheses.sort((a, b) => b.score - a.score);
}

/** Mean at the phase minus the mean elsewhere. */
function contrastAt(x: Float64Array, size: number, phase: number): number {
  let on = 0;
  let onCount = 0;
  let off = 0;
  let offCount = 0;
  for (let k = 0; k < x.length; k++) {
    if (k % size === phase) {
      on += x[k];
      onCount++;
    } else {
      off += x[k];
      offCount++;
    }
  }
  return onCount && offCount ? on / onCount - off / offCount : 0;
}

/** Mean correlation of the beat patterns with themselves one and two bars later. */
function repetitionAt(patterns: Float64Array[], lag: number): number {
  let total = 0;
  let count = 0;
  for (const x of patterns) {
    for (const shift of [lag, 2 * lag]) {
      let product = 0;
      for (let k = 0; k + shift < x.length; k++) product += x[k] * x[k + shift];
      const pairs = x.length - shift;
      if (pairs < 2) continue;
      total += product / pairs;
      count++;
    }
  }
  return count ? total / count : 0;
}

function standardised(x: Float64Array): Float64Array {
  let mean = 0;
  for (const value of x) mean += value;
  mean /= x.length || 1;
  let variance = 0;
  for (const value of x) variance += (value - mean) ** 2;
  const deviation = Math.sqrt(variance / (x.length || 1));
  return x.map((value) => (deviation > 1e-9 ? Math.max(-3, Math.min(3, (value - mean) / deviation)) : 0));
}

function sum(a: Float64Array, b: Float64Array): Float64Array {
  return a.map((value, i) => value + b[i]);
}
