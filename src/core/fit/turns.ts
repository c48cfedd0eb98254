/** By how much each bin of a spectrum is turned: complex numbers of size 1. */
export interface Turns {
  re: Float32Array;
  im: Float32Array;
}

export const makeTurns = (bins: number): Turns => ({
  re: new Float32Array(bins).fill(1),
  im: new Float32Array(bins),
});

/** The same turns at the frequencies of so many bins. */
export function turnsFor(bins: number, turns: Turns): Turns {
  if (turns.re.length === bins) return turns;
  const made = makeTurns(bins);
  const ratio = turns.re.length / bins;
  for (let k = 0; k < bins; k++) {
    const from = Math.min(turns.re.length - 1, Math.round(k * ratio));
    made.re[k] = turns.re[from];
    made.im[k] = turns.im[from];
  }
  return made;
}

/** Puts a spectrum, turned and multiplied bin by bin, where the FFT takes it from. */
export function turnInto(
  into: Float32Array,
  spectrum: Float32Array,
  turns: Turns,
  gains: Float32Array | null,
) {
  // What stands still can be turned over at most.
  into[0] = spectrum[0] * Math.sign(turns.re[0] || 1) * (gains ? gains[0] : 1);
  into[1] = spectrum[1];
  for (let k = 1; k < turns.re.length; k++) {
    const [re, im] = [spectrum[2 * k], spectrum[2 * k + 1]];
    const gain = gains ? gains[k] : 1;
    into[2 * k] = gain * (re * turns.re[k] - im * turns.im[k]);
    into[2 * k + 1] = gain * (re * turns.im[k] + im * turns.re[k]);
  }
}

/** How far a spectrum goes on from another at one bin, all channels together: a complex number. */
export function advanceAt(
  bin: number,
  now: readonly Float32Array[],
  then: readonly Float32Array[],
  channels: number,
): [number, number] {
  let [re, im] = [0, 0];
  for (let c = 0; c < channels; c++) {
    const [a, b] = [now[c][2 * bin], now[c][2 * bin + 1]];
    const [x, y] = [then[c][2 * bin], then[c][2 * bin + 1]];
    re += a * x + b * y;
    im += b * x - a * y;
  }
  return [re, im];
}

/**
 * Turns each peak by as much as it went on over the hop: where the frame before left it (`before`, turned by `was`), and as
 * it would stand a hop earlier in the source (`hopBack`). What lies around a peak, to the valleys, is turned with it (Laroche &
 * Dolson 1999). Spectra as the FFT orders them, one for each channel; `power`: of all channels.
 */
export function turnPeaks(
  power: Float32Array,
  before: readonly Float32Array[],
  hopBack: readonly Float32Array[],
  channels: number,
  was: Turns,
  turns: Turns,
) {
  const found = forEachPeak(power, (peak, from, until) => {
    // What stands still stays.
    const [re, im] = peak === 0 ? [1, 0] : advanceAt(peak, before, hopBack, channels);
    let [r, i] = [was.re[peak], was.im[peak]];
    const size = Math.hypot(re, im);
    if (size > 1e-20) [r, i] = [(r * re - i * im) / size, (r * im + i * re) / size];
    const norm = 1 / Math.max(1e-12, Math.hypot(r, i));
    turns.re.fill(r * norm, from, until);
    turns.im.fill(i * norm, from, until);
  });
  if (!found) {
    turns.re.set(was.re);
    turns.im.set(was.im);
  }
}

/** Goes through the peaks of a power spectrum and the bins around each, from valley to valley; false where there is none. */
export function forEachPeak(
  power: Float32Array,
  take: (peak: number, from: number, until: number) => void,
): boolean {
  const bins = power.length;
  let from = 0;
  let peak = -1;
  let valley = 0;
  for (let k = 0; k < bins; k++) {
    if (power[k] < power[valley]) valley = k;
    const p = power[k];
    const isPeak =
      p > 0 &&
      (k < 1 || p > power[k - 1]) &&
      (k < 2 || p > power[k - 2]) &&
      (k >= bins - 1 || p >= power[k + 1]) &&
      (k >= bins - 2 || p >= power[k + 2]);
    if (!isPeak) continue;
    if (peak >= 0) {
      const until = Math.max(from, valley);
      take(peak, from, until);
      from = until;
    }
    peak = k;
    valley = k + 1 < bins ? k + 1 : k;
  }
  if (peak >= 0) take(peak, from, bins);
  return peak >= 0;
}
