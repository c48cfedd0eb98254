import { FASTEST_BPM, SLOWEST_BPM, type Periodicity } from './tempogram';

/** A tempo worth trying and how strongly the evidence repeats with its period. */
export interface TempoCandidate {
  bpm: number;
  salience: number;
}

const STEP = 1.01;

/** The strongest peaks of the comb-filtered periodicity between SLOWEST_BPM and FASTEST_BPM, at most `limit`. */
export function tempoCandidates(periodicity: Periodicity, limit: number): TempoCandidate[] {
  const grid: number[] = [];
  for (let bpm = SLOWEST_BPM; bpm <= FASTEST_BPM; bpm *= STEP) grid.push(bpm);
  const salience = grid.map((bpm) => combSalience(periodicity, bpm));
  const peaks: TempoCandidate[] = [];
  for (let i = 0; i < grid.length; i++) {
    if (salience[i] > (salience[i - 1] ?? -1) && salience[i] >= (salience[i + 1] ?? -1))
      peaks.push(sharpened(periodicity, grid[i]));
  }
  return peaks
    .filter((peak) => peak.salience > 0)
    .sort((a, b) => b.salience - a.salience)
    .slice(0, limit);
}

/** Mean autocorrelation at one to four periods, times the Fourier magnitude at the period (Peeters 2007). */
export function combSalience(periodicity: Periodicity, bpm: number): number {
  const period = 60 / bpm;
  let comb = 0;
  for (let n = 1; n <= 4; n++) comb += periodicity.at(n * period) / 4;
  return Math.max(0, comb) * Math.sqrt(periodicity.fourierAt(period) + periodicity.fourierAt(period / 2));
}

function sharpened(periodicity: Periodicity, around: number): TempoCandidate {
  let best: TempoCandidate = { bpm: around, salience: 0 };
  for (let bpm = around / STEP; bpm <= around * STEP; bpm *= 1.002) {
    const salience = combSalience(periodicity, bpm);
    if (salience > best.salience) best = { bpm, salience };
  }
  return best;
}
