import { realFft } from '../signal/fft';
import { buffersOf } from './buffers';

/** Periods of a voice, seconds: of 50 to 1100 Hz. */
const SHORTEST = 0.0009;
const LONGEST = 0.0204;
/** Below this there is no period; the first lag that comes so near to the best is one. */
const LEAST = 0.05;
const NEARLY_BEST = 0.85;
/** Power of the power spectrum that tells the period. */
const COMPRESSION = 0.2;
/** How often the envelope of what has no period is lifted onto its peaks, and how fine it is, quefrencies in seconds. */
const ROUNDS = 12;
const FINENESS = 0.00136;

/**
 * What each bin is multiplied by, so that formants stand where they stood once all is read `step` times as fast. The slope
 * of the voice itself goes with its pitch. `power`: of the bins up to half the rate, of a frame of twice as many samples under a Hann window.
 */
export function heldGains(power: Float32Array, step: number, rate: number): Float32Array {
  const envelope = logEnvelope(power, rate);
  const last = envelope.length - 1;
  return envelope.map((here, k) => {
    const at = Math.min(last, k * step);
    const i = Math.min(last - 1, Math.floor(at));
    const there = envelope[i] + (at - i) * (envelope[i + 1] - envelope[i]);
    return step * Math.exp(Math.max(-6, Math.min(4, there - here)));
  });
}

/** The natural logarithm of a spectrum's envelope in amplitude: of a tone through its partials, else that which rests on its peaks. */
function logEnvelope(power: Float32Array, rate: number): Float32Array {
  const period = periodIn(power, rate);
  return period ? throughPartials(power, (power.length * 2) / period) : overPeaks(power, FINENESS * rate);
}

/** The true envelope (Röbel & Rodet 2005): a cepstrum that is smoothed and lifted again until it rests on the peaks. */
function overPeaks(power: Float32Array, order: number): Float32Array {
  const bins = power.length;
  const size = bins * 2;
  const fft = realFft(size);
  const top = power.reduce((most, value) => Math.max(most, value), 1e-20);
  const log = Float32Array.from(power, (value) => 0.5 * Math.log(Math.max(value, top * 1e-9)));
  // All below the order but its last fifth, which ends in a quarter of a cosine.
  const keep = Float32Array.from({ length: bins + 1 }, (_, q) => {
    const end = (q - 0.8 * order) / (0.2 * order);
    return end <= 0 ? 1 : end >= 1 ? 0 : Math.cos((end * Math.PI) / 2) ** 2;
  });
  let smooth = log;
  for (let round = 0; round < ROUNDS; round++) {
    const { spectrum } = fft;
    spectrum.fill(0);
    const lifted = (k: number) => Math.max(log[k], smooth[k]);
    spectrum[0] = lifted(0);
    spectrum[1] = lifted(bins - 1);
    for (let k = 1; k < bins; k++) spectrum[2 * k] = lifted(k);
    const cepstrum = fft.inverse();
    for (let q = 1; q <= bins; q++) {
      cepstrum[q] *= keep[q];
      if (q < bins) cepstrum[size - q] = cepstrum[q];
    }
    const back = fft.forward();
    smooth = Float32Array.from({ length: bins }, (_, k) => back[2 * k]);
  }
  return smooth;
}

/** Through the tops of the partials, which lie `spacing` bins apart, bent as little as may be (Catmull & Rom 1974). */
function throughPartials(power: Float32Array, spacing: number): Float32Array {
  const bins = power.length;
  const value: number[] = [];
  for (let partial = 1; partial * spacing < bins - 2; partial++) {
    let best = -1;
    for (let k = Math.round((partial - 0.4) * spacing); k <= (partial + 0.4) * spacing && k < bins; k++)
      if (best < 0 || power[k] > power[best]) best = k;
    value.push(0.5 * Math.log(power[best] + 1e-30));
  }
  const out = new Float32Array(bins);
  if (value.length < 2) return out;
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
function periodIn(power: Float32Array, rate: number): number | null {
  const bins = power.length;
  const size = bins * 2;
  const fft = realFft(size);
  let own = lagWindows.get(size);
  if (!own) {
    fft.input.set(buffersOf(size).window.values);
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
  const shortest = Math.round(SHORTEST * rate);
  const most = Math.min(Math.round(LONGEST * rate), size >> 1);
  let top = 0;
  for (let lag = shortest; lag < most; lag++) top = Math.max(top, at(lag));
  if (top < LEAST) return null;
  for (let lag = shortest + 1; lag < most; lag++)
    if (at(lag) > NEARLY_BEST * top && at(lag) >= at(lag - 1) && at(lag) >= at(lag + 1)) return lag;
  return null;
}
