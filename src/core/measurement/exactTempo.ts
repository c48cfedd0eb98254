import type { Onset } from '../rhythm/onsets';
import { fitPlaces } from '../rhythm/steadyFit';
import type { RhythmHypothesis } from '../rhythm/hypotheses';
import type { SpanHypothesis } from '../rhythm/spans';

/** Share of music whose tempo was set as a whole number; the rest may have any. */
const SET_WHOLE = 0.55;
/** No fit is trusted more than this, BPM. */
const LEAST_ERROR_BPM = 0.006;

/**
 * The most exact steady tempo and the time of one beat: by arithmetic where that gives one that the evidence
 * cannot tell from the hits' (a file that is cut to whole bars at both ends, or a whole number of BPM), else
 * from all hits on all places of the beat. What is played freely has no tempo that was set. Null where the beats are no steady ones.
 */
export function exactTempo(
  hypothesis: RhythmHypothesis,
  span: SpanHypothesis | undefined,
  onsets: readonly Onset[],
  durationSeconds: number,
  isPlayedFreely = false,
): { bpm: number; anchor: number; bpmError: number } | null {
  const { beats, bar, steady } = hypothesis;
  if (!steady || beats.length < 2) return null;
  if (span?.exact && !isPlayedFreely)
    return { bpm: (60 * span.bars * bar.beatsPerBar) / durationSeconds, anchor: 0, bpmError: 0 };
  if (!hypothesis.fit) return null;
  const fit = fitPlaces(onsets, hypothesis.fit);
  const whole = Math.round(fit.bpm);
  if (isPlayedFreely || whole <= 0 || !isBestWhole(fit.bpm, fit.bpmError)) return fit;
  const middle = Math.round((beats[beats.length >> 1] - fit.anchor) / (60 / fit.bpm));
  return {
    bpm: whole,
    anchor: fit.anchor + middle * (60 / fit.bpm - 60 / whole),
    bpmError: fit.bpmError,
  };
}

/** Within this share of it a tempo is as good as exact. */
const AS_GOOD = 0.001;

/** Whether the nearest whole number is more likely to be as good as exact than the fit itself. */
function isBestWhole(bpm: number, bpmError: number): boolean {
  const odds = oddsOfWhole(bpm, bpmError);
  // The share of a normal distribution within ±x standard errors is that of a logistic one, to a hundredth.
  const x = (AS_GOOD * bpm) / Math.max(LEAST_ERROR_BPM, bpmError);
  const fitIsGood = 2 / (1 + Math.exp(-1.7 * x)) - 1;
  return odds > fitIsGood;
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
