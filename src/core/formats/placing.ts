import type { Lost, PcmSink } from './audioFormat';

/** Silence that stands for what was lost is handed on in blocks of this many frames. */
const SILENT_BLOCK = 16384;
/** No gap in a file is longer than this, seconds: a longer one is a damaged number. */
const LONGEST_GAP = 600;
/** Two gaps with less sound between them are told as one, seconds. */
const ONE_GAP = 0.05;

export interface Placing {
  /** Frames handed on so far. */
  readonly frames: number;
  /** What was filled with silence, in its order. */
  readonly lost: Lost[];
  /** Goes on directly behind what came before. */
  append(block: Float32Array[]): void;
  /**
   * Goes on at frame `at`: silence fills the way there, and what would stand before what is there already is left
   * out. Places that are too far away to be true are passed over.
   */
  place(block: Float32Array[], at: number): void;
}

/** Hands blocks on to their places in time, so that what is lost in the middle moves nothing behind it. */
export function placing(sink: PcmSink, sampleRate: number, channels: number): Placing {
  let frames = 0;
  const lost: Lost[] = [];
  const hand = (block: Float32Array[]) => {
    if (block[0].length === 0) return;
    frames += block[0].length;
    sink(block, sampleRate);
  };
  const silence = (count: number) => {
    const from = frames / sampleRate;
    const last = lost[lost.length - 1];
    if (last && from - last.from - last.seconds < ONE_GAP)
      last.seconds = from + count / sampleRate - last.from;
    else lost.push({ from, seconds: count / sampleRate });
    for (let left = count; left > 0; left -= SILENT_BLOCK) {
      const length = Math.min(left, SILENT_BLOCK);
      hand(Array.from({ length: channels }, () => new Float32Array(length)));
    }
  };
  return {
    get frames() {
      return frames;
    },
    lost,
    append: hand,
    place(block, at) {
      const gap = at - frames;
      if (gap > 0 && gap < LONGEST_GAP * sampleRate) silence(gap);
      hand(gap < 0 && -gap < block[0].length ? block.map((channel) => channel.subarray(-gap)) : block);
    },
  };
}

/** "0.09 s", "1:04 min" */
const length = (seconds: number) =>
  seconds < 60
    ? `${seconds < 10 ? seconds.toFixed(2) : seconds.toFixed(1)} s`
    : `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')} min`;

/** How many places are named one by one. */
const MOST_NAMED = 3;

/** What is lost, in sentences for the user. `claimed`: seconds that the file says it has, where it says so. */
export function lostWords(
  lost: readonly Lost[],
  seconds: number,
  claimed: number | null,
  tolerance = SHORT_SECONDS,
): string[] {
  const words = lost
    .slice(0, MOST_NAMED)
    .map(
      (gap) => `${length(gap.seconds)} at ${length(gap.from)} could not be decoded; silence stands for it.`,
    );
  if (lost.length > MOST_NAMED) {
    const rest = lost.slice(MOST_NAMED).reduce((sum, gap) => sum + gap.seconds, 0);
    words.push(`${lost.length - MOST_NAMED} more places, ${length(rest)} in all, could not be decoded.`);
  }
  const short = claimed === null ? 0 : claimed - seconds;
  if (short > tolerance)
    words.push(
      length(claimed!) === length(seconds)
        ? `The last ${short < 1 ? `${(short * 1000).toFixed(short < 0.01 ? 1 : 0)} ms` : length(short)} of what the file says are missing.`
        : `The file says ${length(claimed!)}, but only ${length(seconds)} are there.`,
    );
  return words;
}

/** What is shorter than it says by less than this is as long as it says. */
const SHORT_SECONDS = 0.002;

/** For what stands behind the last sound that could be decoded, where nothing follows whose place it would keep. */
export const lostAtEnd = (seconds: number): string => `${length(seconds)} at the end could not be decoded.`;

/** For a stream that was not closed by whoever wrote it. */
export const brokenOff = ({ frames, sampleRate }: { frames: number; sampleRate: number }): string =>
  `The file breaks off after ${length(frames / sampleRate)}; what came then is missing.`;
