import type { BeatEvidence } from './beatEvidence';

/** How beats form bars: `phase` is the number of beats before the first downbeat. */
export interface BarHypothesis {
  beatsPerBar: number;
  phase: number;
  score: number;
}

/**
 * Weights of what makes a beat a downbeat, in standard deviations over the recording's beats. Kick drum and
 * bass come on it, the snare does not; harmony changes there more often than on any other beat.
 */
const WEIGHTS = {
  low: 0.9,
  strength: 0.35,
  harmonicChange: 0.7,
  broadHarmonicChange: 0.8,
  backbeat: 0.45,
  repetition: 1.6,
};
/** Bars of four are the commonest in the material that is sampled; three and two need evidence. */
const METER_PRIOR: Record<number, number> = { 2: -0.9, 3: -0.25, 4: 0, 5: -1.1, 6: -1.1, 7: -1.3 };

/** All ways to group beats into bars of the given sizes, best first. */
export function barHypotheses(evidence: BeatEvidence, sizes: readonly number[]): BarHypothesis[] {
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
      const backbeat =
        size === 4
          ? (contrastAt(bright, 4, (phase + 1) % 4) + contrastAt(bright, 4, (phase + 3) % 4)) / 2
          : -contrast(bright) / 2;
      const score =
        WEIGHTS.low * contrast(low) +
        WEIGHTS.strength * contrast(strength) +
        WEIGHTS.harmonicChange * contrast(change) +
        WEIGHTS.broadHarmonicChange * contrast(broad) +
        WEIGHTS.backbeat * backbeat +
        WEIGHTS.repetition * repetition +
        (METER_PRIOR[size] ?? -1.5);
      hypotheses.push({ beatsPerBar: size, phase, score });
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
