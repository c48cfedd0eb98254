import { kernels, roomForFloats } from './kernels';

/** Non-zero taps on each side of the centre, beside which every other tap is nought; the kernel has as many. */
const TAPS = 12;
/** Input samples on each side that an output sample is made of. */
const REACH = 2 * TAPS;
/** Output samples that are made at once. */
const CHUNK = 4096;

// Shared by all filters: what they are between two blocks they keep themselves.
const input = roomForFloats(2 * (CHUNK + REACH));
const even = roomForFloats(CHUNK + REACH);
const odd = roomForFloats(CHUNK + REACH);
const output = roomForFloats(CHUNK);
const taps = roomForFloats(TAPS);
taps.values.set(halfBandTaps());

/**
 * Streaming decimation by two with a half-band filter: a windowed sinc whose every other tap is nought, so
 * that it costs a quarter of a general resampler (Bellanger 1974). Linear phase; output sample n stands
 * where input sample 2n stood. Above 0.8 of the new Nyquist frequency it begins to fall; aliases into the
 * lower half are below −80 dB.
 */
export function createHalfBand(): { push(block: Float32Array): Float32Array; finish(): Float32Array } {
  let kept = new Float32Array(REACH);
  /** Stream index of kept[0]; before the stream there is silence. */
  let start = -REACH;
  let next = 0;
  let received = 0;

  function run(block: Float32Array, until: number): Float32Array {
    const joined = new Float32Array(kept.length + block.length);
    joined.set(kept);
    joined.set(block, kept.length);
    const end = start + joined.length;
    const count = Math.max(0, Math.min(Math.floor((end - REACH - 1 - next) / 2) + 1, until - next / 2));
    const out = new Float32Array(count);
    for (let made = 0; made < count; made += CHUNK) {
      const some = Math.min(CHUNK, count - made);
      const from = next - start + 2 * made - REACH;
      input.values.set(joined.subarray(from, from + 2 * (some + REACH)));
      kernels.split(input.address, even.address, odd.address, some + REACH);
      // The centre of the first output sample stands TAPS even samples from the beginning.
      kernels.halve(even.address + 4 * TAPS, odd.address, taps.address, output.address, some);
      out.set(output.values.subarray(0, some), made);
    }
    next += 2 * count;
    kept = joined.slice(Math.max(0, next - REACH - start));
    start = end - kept.length;
    return out;
  }
  return {
    push(block) {
      received += block.length;
      return run(block, Infinity);
    },
    finish: () => run(new Float32Array(2 * REACH + 2), Math.ceil(received / 2)),
  };
}

/** Kaiser-windowed sinc at the odd distances 1, 3, 5 …, scaled to a gain of one at nought hertz. */
function halfBandTaps(): Float64Array {
  const taps = Float64Array.from({ length: TAPS }, (_, t) => {
    const d = 2 * t + 1;
    const r = d / (2 * TAPS);
    return (Math.sin((Math.PI * d) / 2) / (Math.PI * d)) * kaiser(r);
  });
  const sum = taps.reduce((a, b) => a + b, 0);
  return taps.map((tap) => (tap * 0.25) / sum);
}

function kaiser(r: number): number {
  return besselI0(7 * Math.sqrt(Math.max(0, 1 - r * r))) / besselI0(7);
}

/** Modified Bessel function of the first kind, order 0, by its series. */
export function besselI0(x: number): number {
  let sum = 1;
  let term = 1;
  for (let k = 1; k < 40; k++) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
    if (term < 1e-12 * sum) break;
  }
  return sum;
}
