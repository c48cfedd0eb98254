import { mod } from '../math/mod';
import type { BarChoice, RhythmHypothesis } from '../rhythm/hypotheses';

/**
 * Tempi, to half a percent, with the belief in all explanations (best first) that have them and the best of these. The
 * most believed first.
 */
export function believedTempi(hypotheses: readonly RhythmHypothesis[]) {
  const tempi: { best: RhythmHypothesis; sureness: number }[] = [];
  for (const hypothesis of hypotheses) {
    const same = tempi.find(({ best }) => Math.abs(best.bpm / hypothesis.bpm - 1) < 0.005);
    if (same) same.sureness += hypothesis.sureness;
    else tempi.push({ best: hypothesis, sureness: hypothesis.sureness });
  }
  return tempi.sort((a, b) => b.sureness - a.sureness);
}

/** The tempo that would be most believed had the library no say, BPM. */
export function believedAlone(hypotheses: readonly RhythmHypothesis[]): number {
  const alone = hypotheses.map((one) => ({ ...one, sureness: one.sureness * Math.exp(-one.fromLibrary) }));
  return believedTempi(alone.sort((a, b) => b.sureness - a.sureness))[0].best.bpm;
}

/** Belief in all explanations, beats and bars together, of which something holds. */
export function believed(
  hypotheses: readonly RhythmHypothesis[],
  holds: (lattice: RhythmHypothesis, bar: BarChoice) => boolean,
): number {
  let sum = 0;
  for (const hypothesis of hypotheses)
    for (const bar of hypothesis.bars) if (holds(hypothesis, bar)) sum += hypothesis.sureness * bar.belief;
  return Math.min(1, sum);
}

/** Downbeats this near to a place are at the place, seconds. */
const SAME_PLACE = 0.04;

export function hasDownbeatAt(
  beats: ArrayLike<number>,
  { beatsPerBar, phase }: BarChoice,
  time: number,
): boolean {
  const k = nearest(beats, time);
  return Math.abs(beats[k] - time) < SAME_PLACE && mod(k - phase, beatsPerBar) === 0;
}

/** Index of the time that is nearest to `wanted`. */
export function nearest(times: ArrayLike<number>, wanted: number): number {
  let best = 0;
  for (let i = 1; i < times.length; i++)
    if (Math.abs(times[i] - wanted) < Math.abs(times[best] - wanted)) best = i;
  return best;
}
