import { feltBeatsPerBar, type Meter } from './grid';

/** A stretch taken as a number of bars or beats. */
export interface LengthProposal {
  beats: number;
  /** Whole bars when the beats make some, else null. */
  bars: number | null;
  bpm: number;
}

const BAR_COUNTS = [1, 2, 3, 4, 6, 8, 12, 16, 24, 32, 48, 64];

/**
 * What a stretch of `seconds` may be: bars (and single beats of one bar) whose tempo lies within 40–240 BPM,
 * best first. With a tempo at hand the nearest to it is best, else the one nearest to 110 BPM with a bonus
 * for powers of two.
 */
export function lengthProposals(seconds: number, meter: Meter, nearBpm: number | null): LengthProposal[] {
  if (!(seconds > 0)) throw new RangeError('a stretch has a length');
  const size = feltBeatsPerBar(meter);
  const counts = new Set([
    ...BAR_COUNTS.map((bars) => bars * size),
    ...Array.from({ length: size }, (_, i) => i + 1),
  ]);
  const cost = ({ beats, bpm }: LengthProposal) => {
    const away = Math.abs(Math.log2(bpm / (nearBpm ?? 110)));
    const bars = beats / size;
    const odd = Number.isInteger(bars) ? (Number.isInteger(Math.log2(bars)) ? 0 : 0.12) : 0.3;
    return (nearBpm ? 6 : 1) * away + odd;
  };
  return [...counts]
    .map((beats) => ({
      beats,
      bars: beats % size === 0 ? beats / size : null,
      bpm: (60 * beats) / seconds,
    }))
    .filter(({ bpm }) => bpm >= 40 && bpm <= 240)
    .sort((a, b) => cost(a) - cost(b));
}
