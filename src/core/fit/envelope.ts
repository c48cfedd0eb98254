import { hannWindow, realFft } from '../signal/fft';

/** How often the envelope is lifted onto the peaks. */
const ROUNDS = 12;
const SHORTEST = 40;
const LONGEST = 900;
/** Quefrencies of the envelope of what has no period. */
const PLAIN = 60;
/** Below this there is no period. */
const LEAST = 0.05;
/** Power of the power spectrum that tells the period. */
const COMPRESSION = 0.2;

/**
 * The natural logarithm of a spectrum's envelope in amplitude, bin by bin: the true envelope (Röbel & Rodet 2005), by a cepstrum
 * that is smoothed and lifted again until it rests on the partials, as fine as the tone's own period allows.
 * `power`: of the bins up to half the rate, of a frame of twice as many samples under a Hann window.
 */
export function logEnvelope(power: Float32Array): Float32Array {
  const bins = power.length;
  const size = bins * 2;
  const fft = realFft(size);
  const period = periodIn(power);
  if (period) return throughPartials(power, size / period);
  const order = Math.max(12, PLAIN);
  let top = 1e-20;
  for (const value of power) top = Math.max(top, value);
  const floor = 0.5 * Math.log(top * 1e-9);
  const log = Float32Array.from(power, (value) => Math.max(floor, 0.5 * Math.log(value + 1e-30)));
  const envelope = log.slice();
  const smooth = new Float32Array(bins);
  for (let round = 0; round < ROUNDS; round++) {
    for (let k = 0; k < bins; k++) envelope[k] = round === 0 ? log[k] : Math.max(log[k], smooth[k]);
    const { spectrum } = fft;
    spectrum.fill(0);
    spectrum[0] = envelope[0];
    spectrum[1] = envelope[bins - 1];
    for (let k = 1; k < bins; k++) spectrum[2 * k] = envelope[k];
    const cepstrum = fft.inverse();
    for (let q = 1; q <= bins; q++) {
      const keep = q <= order ? 0.5 + 0.5 * Math.cos((Math.PI * q) / (order + 1)) : 0;
      // Hardly less than all below the order: a raised cosine at its end alone.
      const weight =
        q <= order * 0.8
          ? 1
          : keep > 0
            ? Math.cos(((q - order * 0.8) / (order * 0.2 + 1)) * (Math.PI / 2)) ** 2
            : 0;
      cepstrum[q] *= weight;
      if (q < bins) cepstrum[size - q] = cepstrum[q];
    }
    const back = fft.forward();
    smooth[0] = back[0];
    for (let k = 1; k < bins; k++) smooth[k] = back[2 * k];
  }
  return smooth;
}

/** Through the tops of the partials, which lie `spacing` bins apart, bent as little as may be (Catmull & Rom 1974). */
function throughPartials(power: Float32Array, spacing: number): Float32Array {
  const bins = power.length;
  const at: number[] = [];
  const value: number[] = [];
  for (let partial = 1; partial * spacing < bins - 2; partial++) {
    let best = -1;
    for (let k = Math.round((partial - 0.4) * spacing); k <= (partial + 0.4) * spacing && k < bins; k++)
      if (best < 0 || power[k] > power[best]) best = k;
    at.push(partial * spacing);
    value.push(0.5 * Math.log(power[best] + 1e-30));
  }
  const out = new Float32Array(bins);
  if (at.length < 2) return out;
  const y = (i: number) => value[Math.max(0, Math.min(value.length - 1, i))];
  for (let k = 0; k < bins; k++) {
    const place = k / spacing - 1;
    const i = Math.max(0, Math.min(value.length - 1, Math.floor(place)));
    const t = Math.max(0, Math.min(1, place - i));
    const [a, b, c, d] = [y(i - 1), y(i), y(i + 1), y(i + 2)];
    out[k] = b + 0.5 * t * (c - a + t * (2 * a - 5 * b + 4 * c - d + t * (3 * (b - c) + d - a)));
  }
  return out;
}

const lagWindows = new Map<number, Float32Array>();

/** The period of a tone in samples, from the power spectrum of a frame of it; null where it has none. */
function periodIn(power: Float32Array): number | null {
  const bins = power.length;
  const size = bins * 2;
  const fft = realFft(size);
  let own = lagWindows.get(size);
  if (!own) {
    fft.input.set(hannWindow(size));
    const window = fft.forward().slice();
    const squares = fft.spectrum;
    squares.fill(0);
    squares[0] = window[0] ** 2;
    for (let k = 1; k < bins; k++) squares[2 * k] = window[2 * k] ** 2 + window[2 * k + 1] ** 2;
    own = fft.inverse().slice();
    lagWindows.set(size, own);
  }
  const { spectrum } = fft;
  spectrum.fill(0);
  // Compressed, or a formant would pass for the tone.
  for (let k = 1; k < bins; k++) spectrum[2 * k] = power[k] ** COMPRESSION;
  const lags = fft.inverse();
  const at = (lag: number) => (lags[lag] / lags[0]) * (own[0] / Math.max(own[lag], own[0] * 0.05));
  const most = Math.min(LONGEST, size >> 1);
  let top = 0;
  for (let lag = SHORTEST; lag < most; lag++) top = Math.max(top, at(lag));
  if (top < LEAST) return null;
  for (let lag = SHORTEST + 1; lag < most; lag++)
    if (at(lag) > 0.85 * top && at(lag) >= at(lag - 1) && at(lag) >= at(lag + 1)) return lag;
  return null;
}
