/** Taps on one clock that runs on, whatever the playback does. */
export interface TapRow {
  /** Rising; the first stands at its place in the audio where it was heard. Seconds of the audio. */
  times: readonly number[];
  /** The last tap on the clock of the page, seconds. */
  lastAt: number;
  /** The audio was playing: the first tap has a place in it. */
  isHeard: boolean;
}

export const NO_TAPS: TapRow = { times: [], lastAt: 0, isHeard: false };
const MOST_TAPS = 64;

/**
 * Adds a tap. Between taps the clock of the page counts, times the speed that is heard: where playback loops, jumps or stops, the row
 * goes on. `at`: on the clock of the page; `position`: in the audio, null where it rests; seconds.
 */
export function tapped(
  row: TapRow,
  { at, position, speed }: { at: number; position: number | null; speed: number },
): TapRow {
  const last = row.times.at(-1);
  if (last === undefined) return { times: [position ?? at], lastAt: at, isHeard: position !== null };
  const next = last + Math.max(1e-4, at - row.lastAt) * speed;
  return { ...row, times: [...row.times, next].slice(-MOST_TAPS), lastAt: at };
}
