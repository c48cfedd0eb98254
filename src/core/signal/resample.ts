import { besselI0, createHalfBand } from './halfBand';

/**
 * Streaming resampler by a polyphase windowed-sinc filter (Kaiser window, Smith & Gossett 1984).
 * The filter has linear phase and its delay is taken out: output sample n stands at n / rateOut seconds.
 */
export interface Resampler {
  /** Takes the next input samples and returns the output samples that they complete. */
  push(input: Float32Array): Float32Array;
  /** Returns the last output samples; the output then has round(inputLength · rateOut / rateIn) samples. */
  finish(): Float32Array;
}

/** How finely the filter is made: zero crossings of the sinc on each side, the window, and where it begins to fall. */
interface Quality {
  zeroCrossings: number;
  beta: number;
  /** Of half the lower rate. */
  cutoff: number;
  /** A quick filter halves first where much is left out. */
  mayHalve: boolean;
}

export const QUALITIES = {
  /** For measuring and for hearing: aliases of full-scale hits are under −70 dB. */
  quick: { zeroCrossings: 16, beta: 8, cutoff: 0.94, mayHalve: true },
  /** For what is written: flat to 0.92 of half the lower rate, 120 dB down from half of it on. */
  fine: { zeroCrossings: 96, beta: 12.3, cutoff: 0.96, mayHalve: false },
} as const satisfies Record<string, Quality>;

/** Throws RangeError unless both rates are positive integers. */
export function createResampler(
  rateIn: number,
  rateOut: number,
  quality: keyof typeof QUALITIES = 'quick',
): Resampler {
  if (!(Number.isInteger(rateIn) && Number.isInteger(rateOut) && rateIn > 0 && rateOut > 0)) {
    throw new RangeError(`cannot resample from ${rateIn} Hz to ${rateOut} Hz`);
  }
  if (rateIn === rateOut) return { push: (input) => input.slice(), finish: () => new Float32Array(0) };
  const { zeroCrossings, beta, cutoff: share, mayHalve } = QUALITIES[quality];
  if (mayHalve && rateIn >= 2 * rateOut && rateIn % 2 === 0) return halvedFirst(rateIn, rateOut);

  const divisor = greatestCommonDivisor(rateIn, rateOut);
  const up = rateOut / divisor;
  const down = rateIn / divisor;
  const cutoff = Math.min(1, rateOut / rateIn) * share;
  const halfTaps = Math.ceil(zeroCrossings / cutoff);
  const taps = 2 * halfTaps;
  const phases = makePhases(up, halfTaps, cutoff, beta);

  // `buffer` holds the input from index `bufferStart` on; silence stands before the first sample.
  let buffer = new Float32Array(taps);
  let bufferStart = -taps;
  let received = 0;
  let produced = 0;

  function append(input: Float32Array) {
    const nextCentre = Math.floor((produced * down) / up);
    const keepFrom = Math.min(Math.max(nextCentre - halfTaps, bufferStart), bufferStart + buffer.length);
    const kept = buffer.subarray(keepFrom - bufferStart);
    const joined = new Float32Array(kept.length + input.length);
    joined.set(kept);
    joined.set(input, kept.length);
    buffer = joined;
    bufferStart = keepFrom;
  }

  function produce(until: number): Float32Array {
    const end = bufferStart + buffer.length;
    const room = Math.max(0, Math.ceil(((end - halfTaps) * up) / down) - produced + 2);
    const out = new Float32Array(Math.min(room, Math.max(0, until - produced)));
    // Locals: the inner loop runs for every tap of every sample.
    const source = buffer;
    const start = bufferStart;
    let n = 0;
    while (n < out.length) {
      const position = produced * down;
      const centre = Math.floor(position / up);
      if (centre + halfTaps >= end) break;
      const filter = phases[position - centre * up];
      const from = centre - halfTaps + 1 - start;
      // Two sums side by side: one alone would wait for itself at every addition. The count of taps is even.
      let sum = 0;
      let other = 0;
      for (let t = 0; t < filter.length; t += 2) {
        sum += source[from + t] * filter[t];
        other += source[from + t + 1] * filter[t + 1];
      }
      out[n++] = sum + other;
      produced++;
    }
    return n === out.length ? out : out.slice(0, n);
  }

  return {
    push(input) {
      received += input.length;
      append(input);
      return produce(Infinity);
    },
    finish() {
      append(new Float32Array(taps + 1));
      return produce(framesAt(received, rateIn, rateOut));
    },
  };
}

/** Halving is cheap: what is left for the general filter then has half the samples and half the taps. */
function halvedFirst(rateIn: number, rateOut: number): Resampler {
  const halving = createHalfBand();
  const rest = createResampler(rateIn / 2, rateOut);
  return {
    push: (input) => rest.push(halving.push(input)),
    finish() {
      const head = rest.push(halving.finish());
      const tail = rest.finish();
      const out = new Float32Array(head.length + tail.length);
      out.set(head);
      out.set(tail, head.length);
      return out;
    },
  };
}

function makePhases(up: number, halfTaps: number, cutoff: number, beta: number): Float32Array[] {
  const norm = besselI0(beta);
  return Array.from({ length: up }, (_, phase) => {
    const filter = new Float32Array(2 * halfTaps);
    let sum = 0;
    for (let t = 0; t < filter.length; t++) {
      const x = t - halfTaps + 1 - phase / up;
      const r = x / halfTaps;
      if (Math.abs(r) >= 1) continue;
      const sinc = x === 0 ? 1 : Math.sin(Math.PI * x * cutoff) / (Math.PI * x * cutoff);
      filter[t] = (sinc * besselI0(beta * Math.sqrt(1 - r * r))) / norm;
      sum += filter[t];
    }
    for (let t = 0; t < filter.length; t++) filter[t] /= sum;
    return filter;
  });
}

function greatestCommonDivisor(a: number, b: number): number {
  return b === 0 ? a : greatestCommonDivisor(b, a % b);
}

/** How many frames something has at another rate, as `resample` and `resampleRound` write it. */
export const framesAt = (frames: number, rateIn: number, rateOut: number): number =>
  Math.round((frames * rateOut) / rateIn);

/** Resamples a whole array at once. */
export function resample(
  input: Float32Array,
  rateIn: number,
  rateOut: number,
  quality: keyof typeof QUALITIES = 'quick',
): Float32Array {
  const resampler = createResampler(rateIn, rateOut, quality);
  const head = resampler.push(input);
  const tail = resampler.finish();
  const out = new Float32Array(head.length + tail.length);
  out.set(head);
  out.set(tail, head.length);
  return out;
}

/** Context that is taken along around what loops, input frames at least: more than the filter reaches. */
const AROUND = 2048;

/**
 * Resamples finely what loops: at its ends the filter reads on round the turn, so that it stays as seamless as it was. The result
 * has round(length · rateOut / rateIn) samples.
 */
export function resampleLoop(input: Float32Array, rateIn: number, rateOut: number): Float32Array {
  const divisor = greatestCommonDivisor(rateIn, rateOut);
  const [up, down] = [rateOut / divisor, rateIn / divisor];
  // A whole number of output frames stands before the beginning.
  const around = down * Math.ceil(AROUND / down);
  const { length } = input;
  const wrapped = Float32Array.from(
    { length: length + 2 * around },
    (_, n) => input[(((n - around) % length) + length) % length],
  );
  const first = (around / down) * up;
  return resample(wrapped, rateIn, rateOut, 'fine').slice(first, first + framesAt(length, rateIn, rateOut));
}
