/** What is known of a whole recording, by which its observations count one way or the other; each about −1 … 1. */
export type RecordingContext = readonly number[];

const MIDDLE_SECONDS = 25;
/** Octaves of length to either side of the middle, within which short ones turn into long ones. */
const OCTAVES = 0.8;

/**
 * How long a recording is, and whether it is a performance that nobody kept time for: what tells the metrical level of a
 * short exact loop tells less of a song, and what does where a click was played to less where none was.
 */
export function recordingContext(seconds: number, isFree: boolean): RecordingContext {
  const length = Math.log2(Math.max(1, seconds) / MIDDLE_SECONDS) / OCTAVES;
  return [Math.max(-1, Math.min(1, length)), isFree ? 1 : 0];
}
