import { besselI0 } from '../signal/halfBand';
import { kernels, roomForCounts, roomForFloats, type Room } from '../signal/kernels';
import { samplesFrom } from './analyser';

/** Zero crossings of the sinc on each side. */
const CROSSINGS = 32;
const BETA = 10;
/** Places between two frames of the source for which the kernel is kept; between them it is straight. */
const PLACES = 512;

/** How the result of a reading goes through its source: frame n of the result stands at `at(n)`, going on by `step`. */
export interface Reading {
  at: (frame: number) => number;
  step: number;
  /** The source loops. */
  isLoop: boolean;
}

const cutoffOf = (step: number) => Math.min(1, 1 / step) * 0.97;

/** How far from a place the source is read, frames. */
export const reachOf = (step: number): number => Math.ceil(CROSSINGS / cutoffOf(step));

/** Widths are whole vectors of the kernels. */
const widthOf = (step: number) => 4 * Math.ceil((2 * reachOf(step)) / 4);

/** Room for as many rows as are wanted where a source is read at four times its speed; read faster, they lie further apart. */
const ROW_ROOM = (PLACES + 2) * widthOf(4);
/** So many frames are read at once, from a stretch of the source that is no longer than `PIECE`. */
const CHUNK = 2048;
const PIECE = 16_384;
const placeRoom = roomForFloats(CHUNK);
const firstRoom = roomForCounts(CHUNK);
const pieceRoom = roomForFloats(PIECE);
const outRoom = roomForFloats(CHUNK);

/** What each frame of the source about a place counts: a row for each place between two frames. */
interface Kernel {
  rows: Room;
  cutoff: number;
  width: number;
  places: number;
}
/** One for all that is read at its own speed or slower, and the last of the others: a sample is read with both in turn. */
const kept: { slow: Kernel | null; fast: Kernel | null } = { slow: null, fast: null };
const rowRooms = { slow: roomForFloats(ROW_ROOM), fast: roomForFloats(ROW_ROOM) };

/** sinc under a Kaiser window (Smith & Gossett 1984), for one cutoff. */
function kernelFor(step: number): Kernel {
  const cutoff = cutoffOf(step);
  const speed = step > 1 ? 'fast' : 'slow';
  const known = kept[speed];
  if (known?.cutoff === cutoff) return known;
  const rows = rowRooms[speed];
  const reach = reachOf(step);
  const width = widthOf(step);
  const places = Math.min(PLACES, Math.floor(ROW_ROOM / width) - 2);
  const top = besselI0(BETA);
  const weight = (distance: number) => {
    const x = distance * cutoff;
    if (x >= CROSSINGS) return 0;
    const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
    return (cutoff * sinc * besselI0(BETA * Math.sqrt(1 - (x / CROSSINGS) ** 2))) / top;
  };
  // One row more than there are places: what lies hardly before the next frame may be rounded to it.
  for (let place = 0; place < places + 2; place++)
    for (let i = 0; i < width; i++)
      rows.values[place * width + i] = weight(Math.abs(i - reach + 1 - place / places));
  return (kept[speed] = { rows, cutoff, width, places });
}

/**
 * Reads all channels at another speed into frames from … until of the result, band-limited, so that nothing folds back.
 * Throws RangeError where a frame of the result would need more of the source than there is room for.
 */
export function repitch(
  sources: readonly Float32Array[],
  out: readonly Float32Array[],
  from: number,
  until: number,
  { at: placeOf, step, isLoop }: Reading,
) {
  const { rows, width, places } = kernelFor(step);
  const reach = reachOf(step);
  for (let begin = from; begin < until;) {
    // What is read lies in one piece, with what is beyond its ends.
    const low = Math.floor(placeOf(begin)) - reach + 1;
    const highAt = (end: number) => Math.floor(placeOf(end - 1)) - reach + 1 + width;
    let end = Math.min(until, begin + CHUNK);
    while (highAt(end) - low > PIECE && end > begin + 1) end = begin + ((end - begin) >> 1);
    const length = highAt(end) - low;
    if (length > PIECE) throw new RangeError(`a source cannot be read at ${step} times its speed`);
    for (let n = begin; n < end; n++) {
      const at = placeOf(n);
      const middle = Math.floor(at);
      placeRoom.values[n - begin] = (at - middle) * places;
      firstRoom.values[n - begin] = middle - reach + 1 - low;
    }
    const piece = pieceRoom.values.subarray(0, length);
    for (let c = 0; c < sources.length; c++) {
      samplesFrom(sources[c], low, length, isLoop, piece);
      kernels.read(
        ...([rows.address, 4 * width, placeRoom.address, firstRoom.address] as const),
        ...([pieceRoom.address, outRoom.address, end - begin] as const),
      );
      out[c].set(outRoom.values.subarray(0, end - begin), begin);
    }
    begin = end;
  }
}
