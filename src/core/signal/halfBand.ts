/** Non-zero taps on each side of the centre, beside which every other tap is nought. */
const TAPS = 12;

/**
 * Streaming decimation by two with a half-band filter: a windowed sinc whose every other tap is nought, so
 * that it costs a quarter of a general resampler (Bellanger 1974). Linear phase; output sample n stands
 * where input sample 2n stood. Above 0.8 of the new Nyquist frequency it begins to fall; aliases into the
 * lower half are below −80 dB.
 */
export function createHalfBand(): { push(block: Float32Array): Float32Array; finish(): Float32Array } {
  const [a, b, c, d, e, f, g, h, i, j, k, l] = halfBandTaps();
  const reach = 2 * TAPS;
  let kept = new Float32Array(reach);
  /** Stream index of kept[0]; before the stream there is silence. */
  let start = -reach;
  let next = 0;
  let received = 0;

  function run(block: Float32Array, until: number): Float32Array {
    const joined = new Float32Array(kept.length + block.length);
    joined.set(kept);
    joined.set(block, kept.length);
    const end = start + joined.length;
    const count = Math.max(0, Math.min(Math.floor((end - reach - 1 - next) / 2) + 1, until - next / 2));
    const out = new Float32Array(count);
    // Written out, in sums that do not wait for each other: it runs for every sample there is, and a loop over
    // the taps takes four times as long.
    const x = joined;
    for (let n = 0, m = next - start; n < count; n++, m += 2) {
      const near = a * (x[m - 1] + x[m + 1]) + b * (x[m - 3] + x[m + 3]) + c * (x[m - 5] + x[m + 5]);
      const middle = d * (x[m - 7] + x[m + 7]) + e * (x[m - 9] + x[m + 9]) + f * (x[m - 11] + x[m + 11]);
      const far = g * (x[m - 13] + x[m + 13]) + h * (x[m - 15] + x[m + 15]) + i * (x[m - 17] + x[m + 17]);
      const last = j * (x[m - 19] + x[m + 19]) + k * (x[m - 21] + x[m + 21]) + l * (x[m - 23] + x[m + 23]);
      out[n] = 0.5 * x[m] + (near + middle) + (far + last);
    }
    next += 2 * count;
    kept = joined.slice(Math.max(0, next - reach - start));
    start = end - kept.length;
    return out;
  }
  return {
    push(block) {
      received += block.length;
      return run(block, Infinity);
    },
    finish: () => run(new Float32Array(2 * reach + 2), Math.ceil(received / 2)),
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
