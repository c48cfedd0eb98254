import { FRAME_RATE } from './onsetFeatures';

/** How far a player may be from the candidate tempo, and how dear a change between two beats is. */
export interface BeatFreedom {
  spread: number;
  changeCost: number;
}

export const STIFF: BeatFreedom = { spread: 0.06, changeCost: 120 };
export const SUPPLE: BeatFreedom = { spread: 0.22, changeCost: 40 };

/**
 * The most likely beat times for a tempo near `bpm`: exact dynamic programming over (time of a beat, last
 * interval), rewarding evidence at beats and charging for changes of the interval (Ellis 2007, with the
 * interval as state as in Krebs, Böck & Widmer 2015). `evidence` has FRAME_RATE values a second. Returns
 * seconds, covering the whole recording.
 */
export function trackBeats(evidence: Float32Array, bpm: number, freedom: BeatFreedom): Float64Array {
  const period = (60 / bpm) * FRAME_RATE;
  const shortest = Math.max(8, Math.floor(period * (1 - freedom.spread)));
  const longest = Math.max(shortest + 1, Math.ceil(period * (1 + freedom.spread)));
  const intervals = longest - shortest + 1;
  const frames = evidence.length;
  if (frames <= longest + 1)
    return Float64Array.from(
      frames > period ? [peakFrame(evidence, 0, Math.round(period)) / FRAME_RATE] : [],
    );

  const change = new Float64Array(intervals * intervals);
  for (let a = 0; a < intervals; a++) {
    for (let b = 0; b < intervals; b++) {
      // Half a frame of rounding is no change of tempo.
      const apart = Math.max(0, Math.abs(a - b) - 0.6);
      change[a * intervals + b] = freedom.changeCost * (apart / period) ** 1.5 * 4;
    }
  }
  // A larger jump from one beat to the next costs more than any beat's evidence can repay.
  const farthest = Math.ceil(0.08 * period) + 1;
  const offset = Float64Array.from(
    { length: intervals },
    (_, a) => 6 * Math.log((shortest + a) / period) ** 2,
  );
  let mean = 0;
  for (const value of evidence) mean += compress(value);
  mean /= frames;

  const score = new Float64Array(frames * intervals);
  const from = new Int16Array(frames * intervals).fill(-1);
  for (let t = 0; t < frames; t++) {
    const gain = compress(evidence[t]) - mean;
    for (let a = 0; a < intervals; a++) {
      const previous = t - shortest - a;
      const here = t * intervals + a;
      if (previous < 0) {
        score[here] = gain;
        continue;
      }
      const row = previous * intervals;
      let bestScore = -Infinity;
      let bestFrom = -1;
      const last = Math.min(intervals - 1, a + farthest);
      for (let b = Math.max(0, a - farthest); b <= last; b++) {
        const candidate = score[row + b] - change[a * intervals + b];
        if (candidate > bestScore) {
          bestScore = candidate;
          bestFrom = b;
        }
      }
      score[here] = bestScore + gain - offset[a];
      from[here] = bestFrom;
    }
  }

  let t = frames - 1;
  let a = 0;
  let bestEnd = -Infinity;
  for (let end = frames - Math.round(period); end < frames; end++) {
    for (let i = 0; i < intervals; i++) {
      if (score[end * intervals + i] > bestEnd) {
        bestEnd = score[end * intervals + i];
        t = end;
        a = i;
      }
    }
  }
  const beats: number[] = [];
  while (t >= 0) {
    beats.push(refinedPeak(evidence, t) / FRAME_RATE);
    const b = from[t * intervals + a];
    t -= shortest + a;
    if (b < 0) break;
    a = b;
  }
  if (t >= 0) beats.push(t / FRAME_RATE);
  return Float64Array.from(beats.reverse());
}

function compress(value: number): number {
  return Math.min(Math.sqrt(value), 3.5);
}

function peakFrame(x: Float32Array, from: number, to: number): number {
  let best = from;
  for (let i = from; i < Math.min(to, x.length); i++) if (x[i] > x[best]) best = i;
  return best;
}

/** Moves a beat by a fraction of a frame towards the centre of the evidence around it. */
function refinedPeak(x: Float32Array, t: number): number {
  const a = x[t - 1] ?? 0;
  const b = x[t];
  const c = x[t + 1] ?? 0;
  const curve = a - 2 * b + c;
  return b > a && b > c && curve < 0 ? t + (0.5 * (a - c)) / curve : t;
}
