import type { DecodedSummary } from '../formats/audioFormat';
import type { Measurement } from './schema';

/** Share of a file that is missing beyond which nothing more is lost by missing more. */
const MUCH = 0.25;
/** What is left of a confidence then. */
const LEFT = 0.5;

/** The share of a file that is not there: filled with silence, or missing at the end. 0 … 1. */
export function lostShare(
  { lost = [], frames, sampleRate }: Pick<DecodedSummary, 'lost' | 'frames' | 'sampleRate'>,
  claimed: number | null,
): number {
  const seconds = frames / sampleRate;
  const silent = lost.reduce((sum, gap) => sum + gap.seconds, 0);
  const missing = claimed === null ? 0 : Math.max(0, claimed - seconds);
  return Math.min(1, (silent + missing) / Math.max(seconds + missing, 1e-9));
}

/** Makes everything that was measured of a damaged file less sure, in place: by up to a half when a quarter is lost. */
export function lessSure(measured: Measurement, share: number): void {
  if (share > 0) scaleSureness(measured, 1 - (1 - LEFT) * Math.min(1, share / MUCH));
}

/** Multiplies the confidence of everything that was measured, in place. */
export function scaleSureness(measured: Measurement, factor: number): void {
  const { tempo, meter, key, loop } = measured;
  for (const part of [tempo, meter, key, loop]) if (part) part.sureness *= factor;
  measured.kindSureness *= factor;
  if (measured.theOneSureness !== null) measured.theOneSureness *= factor;
}
