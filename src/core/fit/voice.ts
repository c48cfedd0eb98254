import { repitch } from './repitch';
import { spansOf } from './spans';
import { stretch } from './stretch';

/** What a sample is to become, in frames. */
export interface Fitting {
  /** Frames a second, of both. */
  rate: number;
  /** Frames of the result. */
  length: number;
  semitones: number;
  /** Frames of the source at which something is struck. */
  attacks: readonly number[];
  /** The source goes round, and so does the result. */
  isLoop: boolean;
  /** Formants stay where they are while the pitch moves. */
  holdFormants: boolean;
  /** Pitch and speed go together, as a tape's do; `semitones` is not asked then. */
  tape?: boolean;
}

/** Lengths of frames at 44.1 kHz. */
const WINDOWS = [2048, 4096, 8192];
const OVERLAP = 4;
/** The farthest that anything is bent: a quarter and four times as long as it is read, after its pitch is made up for. */
const MOST = 4;

/**
 * A whole sample, exactly as long and as high as it is to be. Channels stay together; where nothing is asked the result is the
 * source, to the bit. Throws RangeError for an empty source, unequal channels, a length that is no whole number of frames, and
 * what is bent too far.
 */
export function fitted(source: readonly Float32Array[], fitting: Fitting): Float32Array[] {
  const { length, semitones, isLoop, attacks, rate } = fitting;
  const size = source[0]?.length ?? 0;
  if (size === 0 || source.some((channel) => channel.length !== size))
    throw new RangeError('there is no sound, or its channels are not equally long');
  if (!Number.isInteger(length) || length < 1) throw new RangeError(`${length} frames cannot be made`);
  if (!(rate >= 4000 && rate <= 400_000)) throw new RangeError(`${rate} Hz is no rate of audio`);
  if (!Number.isFinite(semitones) || Math.abs(semitones) > 24)
    throw new RangeError(`${semitones} semitones are beyond ± 24`);
  if (fitting.tape) return source.map((channel) => repitch(channel, size / length, length, isLoop));
  const inner = Math.max(1, Math.round(length * 2 ** (semitones / 12)));
  const ratio = inner / size;
  if (ratio > MOST * 1.001 || ratio < 0.999 / MOST)
    throw new RangeError(
      `a ratio of ${(length / size).toFixed(3)} at ${semitones} semitones is beyond a quarter to four times`,
    );
  const step = inner / length;
  const settings = {
    rate,
    windows: WINDOWS.map((frames) => frames * 2 ** Math.max(-2, Math.round(Math.log2(rate / 44_100)))),
    overlap: OVERLAP,
    holdAgainst: fitting.holdFormants && semitones !== 0 ? step : 1,
  };
  const stretched =
    inner === size && settings.holdAgainst === 1
      ? source.map((channel) => channel.slice())
      : stretch(source, spansOf({ size, length: inner, attacks, isLoop, rate }), inner, isLoop, settings);
  return inner === length ? stretched : stretched.map((channel) => repitch(channel, step, length, isLoop));
}
