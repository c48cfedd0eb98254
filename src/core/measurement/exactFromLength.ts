import type { RhythmHypothesis } from '../rhythm/meterHypotheses';

/** A file whose ends agree with the fitted bars this well was cut to bars; its length is exact arithmetic. */
const AGREEMENT_SECONDS = 0.02;
/** A tempo whose nearest whole number stays this close to the fit at the far end was programmed as one. */
const WHOLE_NUMBER_SECONDS = 0.006;
/** … or this close in itself, BPM. */
const WHOLE_NUMBER_BPM = 0.005;

/**
 * A more exact tempo than the fit's where arithmetic gives one that the evidence cannot tell from it: a
 * file that is a whole number of bars long from its very first sample, or a whole number of BPM. Returns
 * null where neither agrees.
 */
export function exactFromLength(
  hypothesis: RhythmHypothesis,
  durationSeconds: number,
): { bpm: number; anchor: number } | null {
  const { fit, beats, bar } = hypothesis;
  if (!fit || beats.length < 2) return null;
  const period = 60 / fit.bpm;
  const beatsInFile = Math.round(durationSeconds / period);
  const wholeBars = beatsInFile % bar.beatsPerBar === 0 && beatsInFile > 0;
  const startsOnBar = Math.abs(beats[0]) < AGREEMENT_SECONDS * 1.5 && bar.phase === 0;
  if (
    wholeBars &&
    startsOnBar &&
    durationSeconds < 60 &&
    Math.abs(durationSeconds - beatsInFile * period) < AGREEMENT_SECONDS
  ) {
    return { bpm: (60 * beatsInFile) / durationSeconds, anchor: Math.max(0, Math.min(beats[0], 0.002)) };
  }
  const whole = Math.round(fit.bpm);
  const middle = beats[beats.length >> 1];
  const offAtEnd = Math.abs(60 / whole - period) * (beats.length / 2);
  // Only where the hits cannot tell the two apart: sharp ones know 141.04 from 141.
  const within = Math.max(WHOLE_NUMBER_BPM, 3 * fit.bpmError);
  if (whole > 0 && Math.abs(whole - fit.bpm) <= within && offAtEnd < WHOLE_NUMBER_SECONDS) {
    return { bpm: whole, anchor: middle - (beats.length >> 1) * (60 / whole) };
  }
  return null;
}
