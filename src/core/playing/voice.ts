/**
 * Where a voice has its sound from: frames of the clock, read in order. `jump` says which is the next. A plain one reads
 * memory; one that stretches has more or fewer frames than what it reads.
 */
export interface VoiceReader {
  /** How many frames it has. */
  readonly frames: number;
  jump(frame: number): void;
  /** Writes the next `count` frames to the beginning of both. */
  read(left: Float32Array, right: Float32Array, count: number): void;
}

/** Reads a stretch of audio as it is; mono is heard on both sides. Its memory may fill while it is read. */
export class PlainReader implements VoiceReader {
  readonly frames: number;
  private next = 0;
  private readonly left: Float32Array;
  private readonly right: Float32Array;

  /** Frames from … to of `channels`. */
  constructor(
    channels: readonly Float32Array[],
    private readonly from: number,
    to: number,
  ) {
    this.left = channels[0] ?? new Float32Array(0);
    this.right = channels[1] ?? this.left;
    this.frames = Math.max(0, Math.min(to, this.left.length) - from);
  }

  jump(frame: number) {
    this.next = frame;
  }

  read(left: Float32Array, right: Float32Array, count: number) {
    const at = this.from + this.next;
    for (let i = 0; i < count; i++) {
      left[i] = this.left[at + i];
      right[i] = this.right[at + i];
    }
    this.next += count;
  }
}

/**
 * Reads audio that loops for ever. A round need not be a whole number of frames: each begins at the frame nearest to where it
 * stands, so that it is never off by more than half of one.
 */
export class RoundReader implements VoiceReader {
  readonly frames = Infinity;
  private next = 0;
  private readonly left: Float32Array;
  private readonly right: Float32Array;

  /** `turn`: frames of a round, about as many as there are in `channels`. Throws RangeError for a round of next to nothing. */
  constructor(
    channels: readonly Float32Array[],
    private readonly turn: number,
  ) {
    this.left = channels[0] ?? new Float32Array(0);
    this.right = channels[1] ?? this.left;
    if (!(turn >= 1 && this.left.length >= 1)) throw new RangeError(`a round of ${turn} frames is none`);
  }

  jump(frame: number) {
    this.next = frame;
  }

  read(left: Float32Array, right: Float32Array, count: number) {
    const { turn } = this;
    let round = Math.floor((this.next + 0.5) / turn);
    let start = Math.round(round * turn);
    let end = Math.round((round + 1) * turn);
    for (let i = 0; i < count; i++) {
      const at = this.next + i;
      if (at >= end) {
        round++;
        start = end;
        end = Math.round((round + 1) * turn);
      }
      const frame = (at - start) % this.left.length;
      left[i] = this.left[frame];
      right[i] = this.right[frame];
    }
    this.next += count;
  }
}

/** How a voice is heard among the others. */
export interface Hearing {
  /** Linear; 1 as it was recorded. */
  level: number;
  /** −1: only its left side, 0: as it was recorded, 1: only its right one. */
  pan: number;
  muted: boolean;
}

export const AS_RECORDED: Hearing = { level: 1, pan: 0, muted: false };

const ROOM = 512;
/** What is changed while it sounds glides over so many frames, so that it does not crack. */
export const GLIDE_FRAMES = 128;

/** Where a voice ends before it would by itself, frames of the clock. */
export interface Cut {
  until: number;
  /** It fades out before that: it ends in the middle of something. */
  fades: boolean;
}

/** Something that sounds on the clock from a frame on. */
export class Voice {
  /** Frame of the clock after its last one. */
  readonly end: number;
  /** From here on it fades out. */
  private readonly fadesFrom: number;
  private wanted: [number, number] = [0, 0];
  /** What it is heard with now. */
  private heard: [number, number];
  private next = NaN;
  private scratch = [new Float32Array(ROOM), new Float32Array(ROOM)];

  constructor(
    private readonly reader: VoiceReader,
    private readonly start: number,
    hearing: Hearing,
    cut: Cut | null = null,
  ) {
    const own = start + reader.frames;
    this.end = Math.max(start, Math.min(own, cut?.until ?? Infinity));
    this.fadesFrom = cut?.fades && this.end < own ? this.end - GLIDE_FRAMES : Infinity;
    this.hear(hearing);
    this.heard = this.wanted;
  }

  hear({ level, pan, muted }: Hearing) {
    const loud = muted ? 0 : level;
    this.wanted = [loud * Math.min(1, 1 - pan), loud * Math.min(1, 1 + pan)];
  }

  /** Adds `count` frames from a frame of the clock on. `leadsIn`: what has always gone round is heard before its beginning too. */
  addTo(left: Float32Array, right: Float32Array, from: number, count: number, leadsIn = false) {
    const [fromLeft, fromRight] = this.heard;
    const [toLeft, toRight] = this.wanted;
    this.heard = this.wanted;
    const isBefore = leadsIn && this.reader.frames === Infinity && this.start <= from + count;
    const first = isBefore ? 0 : Math.max(0, this.start - from);
    const last = Math.min(count, this.end - from);
    if (first >= last || (fromLeft === 0 && fromRight === 0 && toLeft === 0 && toRight === 0)) return;
    if (this.next !== from + first) this.reader.jump(from + first - this.start);
    const wanted = last - first;
    if (this.scratch[0].length < wanted) this.scratch = [new Float32Array(wanted), new Float32Array(wanted)];
    const [a, b] = this.scratch;
    this.reader.read(a, b, wanted);
    this.next = from + last;
    const glide = Math.min(count, GLIDE_FRAMES);
    for (let i = 0; i < wanted; i++) {
      const share = Math.min(1, (first + i) / glide);
      const over = from + first + i - this.fadesFrom;
      if (over > 0) {
        const gain = 1 - over / GLIDE_FRAMES;
        a[i] *= gain;
        b[i] *= gain;
      }
      left[first + i] += (fromLeft + share * (toLeft - fromLeft)) * a[i];
      right[first + i] += (fromRight + share * (toRight - fromRight)) * b[i];
    }
  }
}
