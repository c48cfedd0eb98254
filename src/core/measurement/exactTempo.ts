import type { RhythmHypothesis } from '../rhythm/hypotheses';
import type { SpanHypothesis } from '../rhythm/spans';

/** Share of music whose tempo was set as a whole number; the rest may have any. */
const SET_WHOLE = 0.55;
/** No fit is trusted more than this, BPM. */
const LEAST_ERROR_BPM = 0.006;

/**
 * A more exact tempo than the fit's where arithmetic gives one that the evidence cannot tell from it: a file
 * that is cut to whole bars at both ends, or a whole number of BPM. Returns the tempo and the time of one
 * beat, or null where neither agrees.
 */
export function exactTempo(
  hypothesis: RhythmHypothesis,
  span: SpanHypothesis | undefined,
  durationSeconds: number,
): { bpm: number; anchor: number } | null {
  const { fit, beats, bar, steady } = hypothesis;
  if (!steady || beats.length < 2) return null;
  if (span?.exact) return { bpm: (60 * span.bars * bar.beatsPerBar) / durationSeconds, anchor: 0 };
  if (!fit) return null;
  const whole = Math.round(fit.bpm);
  if (whole <= 0 || oddsOfWhole(fit.bpm, fit.bpmError) < 1) return null;
  const middle = beats.length >> 1;
  return { bpm: whole, anchor: beats[middle] - middle * (60 / whole) };
}

/**
 * Odds that a tempo was set as the nearest whole number, not as any other near it, by Bayes' rule: the fit's
 * error is normal, other tempi are equally likely.
 */
export function oddsOfWhole(bpm: number, bpmError: number): number {
  const error = Math.max(LEAST_ERROR_BPM, bpmError);
  const away = (bpm - Math.round(bpm)) / error;
  return (SET_WHOLE * Math.exp(-0.5 * away * away)) / ((1 - SET_WHOLE) * error * Math.sqrt(2 * Math.PI));
}
