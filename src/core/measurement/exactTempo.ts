import type { RhythmHypothesis } from '../rhythm/hypotheses';
import type { SpanHypothesis } from '../rhythm/spans';

/** A tempo whose nearest whole number stays this close to the fit at the far end was programmed as one. */
const WHOLE_NUMBER_SECONDS = 0.006;
/** … or this close in itself, BPM. */
const WHOLE_NUMBER_BPM = 0.005;

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
  const middle = beats.length >> 1;
  const offAtEnd = Math.abs(60 / whole - 60 / fit.bpm) * (beats.length / 2);
  // Only where the hits cannot tell the two apart: sharp ones know 141.04 from 141.
  const within = Math.max(WHOLE_NUMBER_BPM, 3 * fit.bpmError);
  if (whole > 0 && Math.abs(whole - fit.bpm) <= within && offAtEnd < WHOLE_NUMBER_SECONDS)
    return { bpm: whole, anchor: beats[middle] - middle * (60 / whole) };
  return null;
}
