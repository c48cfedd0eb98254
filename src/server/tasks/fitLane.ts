import { partsFitted } from '@/library/blend/mixdown';
import type { LaneScore } from '@/library/blend/parts';
import { wholeSample } from './wholeSample';

/** What of a lane is fitted: its sample, and its parts. */
export type LaneToFit = Pick<LaneScore, 'parts'> & { sampleId: string };

/** Decodes a lane's sample and fits its parts, in their order: here or in another thread. `onProgress` gets the share that is done. */
export type FitLane = (
  lane: LaneToFit,
  rate: number,
  onProgress: (share: number) => void,
) => Promise<Float32Array[][]>;

/** Share of the time that decoding usually takes. */
const DECODING = 0.3;

let last: Promise<unknown> = Promise.resolve();

/** Fits a lane in this thread, one after the other. Throws UndecodableError with a sentence for the user. */
export const laneFitted: FitLane = (...asked) => {
  const mine = last.then(() => fittedNow(...asked));
  last = mine.catch(() => {});
  return mine;
};

const fittedNow: FitLane = async ({ sampleId, parts }, rate, onProgress) => {
  const source = await wholeSample(sampleId, rate, (share) => onProgress(DECODING * share));
  const length = parts.reduce((sum, { plan }) => sum + plan.seconds * rate, 0);
  const steps = partsFitted(parts, source, rate);
  let step = steps.next();
  for (let made = 0; !step.done; step = steps.next()) {
    made += step.value;
    onProgress(DECODING + (1 - DECODING) * Math.min(1, made / length));
  }
  return parts.map((part) => (step.value as Exclude<typeof step.value, number>).get(part)!);
};
