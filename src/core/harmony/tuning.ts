import type { PitchPeaks } from './pitchSpectrum';

/**
 * How far the recording's tuning is from A4 = 440 Hz, −50 … 50 cents: the mode of the peaks' distances
 * from equal temperament (a circular histogram, smoothed), refined by the mean near it. Only peaks below
 * about 1 kHz count, whose partials are hardly stretched. 0 where there are no peaks.
 */
export function estimateTuning(peaks: PitchPeaks): number {
  const histogram = new Float64Array(100);
  const { midi, weight } = peaks;
  for (let i = 0; i < midi.length; i++) {
    if (midi[i] < 45 || midi[i] > 84) continue;
    const cents = (midi[i] - Math.round(midi[i])) * 100;
    histogram[(Math.floor(cents) + 100) % 100] += Math.sqrt(weight[i]);
  }
  const reach = 8;
  let best = 0;
  let bestSum = -1;
  for (let c = 0; c < 100; c++) {
    let sum = 0;
    for (let d = -reach; d <= reach; d++)
      sum += histogram[(c + d + 100) % 100] * (1 - Math.abs(d) / (reach + 1));
    if (sum > bestSum) {
      bestSum = sum;
      best = c;
    }
  }
  if (bestSum <= 0) return 0;
  let offset = 0;
  let total = 0;
  for (let d = -12; d <= 12; d++) {
    const value = histogram[(best + d + 100) % 100] * (1 - Math.abs(d) / 13);
    offset += value * d;
    total += value;
  }
  const cents = best + 0.5 + offset / total;
  return cents >= 50 ? cents - 100 : cents;
}
