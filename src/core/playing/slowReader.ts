import { firstNotBefore } from '../math/bisect';

/** Frames of a grain; at 44.1 kHz 46 ms: two periods of the lowest tones, short enough for fast notes. */
const GRAIN = 2048;
const HOP = GRAIN / 2;
/** Grains are shifted by up to this much so that waves meet in phase. */
const SEARCH = 420;
/** Every how many frames waves are compared. */
const STRIDE = 6;
/** What a grain may need of the audio before and after the place that it is laid for. */
const BEFORE = 2 * GRAIN;
const AFTER = 3 * GRAIN;

const WINDOW = Float32Array.from(
  { length: GRAIN },
  (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / GRAIN),
);

/** Writes `count` frames of the audio from frame `from` on (which may lie outside of it) to the beginning of both. */
export type ReadFrames = (left: Float32Array, right: Float32Array, from: number, count: number) => void;

/**
 * Reads audio more slowly than it was played, its pitch held: overlapping grains that follow the slow
 * position and are shifted so that waves meet (waveform similarity, Verhelst & Roelands 1993). Grains that hold a
 * hit are laid so that the hit sounds once, and exactly when the position passes it: a click beside it can be
 * judged as at full speed. The audio is read once and in order while nothing jumps.
 */
export class SlowReader {
  private hits: Float64Array = new Float64Array(0);
  private tails = [new Float32Array(HOP), new Float32Array(HOP)];
  private heads = [new Float32Array(HOP), new Float32Array(HOP)];
  /** Frames of the present hop that are used up. */
  private used = HOP;
  /** Where the last grain began in the audio. */
  private last = 0;
  private fresh = true;
  /** Audio from frame `keptFrom` on, up to `keptTo`. */
  private readonly kept = [new Float32Array(BEFORE + AFTER), new Float32Array(BEFORE + AFTER)];
  private keptFrom = 0;
  private keptTo = 0;

  constructor(private readonly readFrames: ReadFrames) {}

  /** Frames of the attacks that are to stay in place, rising. */
  setHits(hits: Float64Array) {
    this.hits = hits;
  }

  /** The next frame has nothing to do with the one before. */
  jump() {
    this.used = HOP;
    this.fresh = true;
    for (const tail of this.tails) tail.fill(0);
    this.forget();
  }

  /** The audio is not what it was: it is read again. */
  forget() {
    this.keptTo = this.keptFrom;
  }

  /** Writes `count` frames, of which the first sounds at `position` of the audio; each goes on by `speed`. */
  read(left: Float32Array, right: Float32Array, count: number, position: number, speed: number) {
    for (let done = 0; done < count;) {
      if (this.used === HOP) this.nextGrain(position + done * speed, speed);
      const part = Math.min(count - done, HOP - this.used);
      const [a, b] = this.heads;
      for (let i = 0; i < part; i++) {
        left[done + i] = a[this.used + i];
        right[done + i] = b[this.used + i];
      }
      this.used += part;
      done += part;
    }
  }

  private nextGrain(position: number, speed: number) {
    const centre = position + HOP * speed;
    const natural = Math.round(centre - HOP);
    this.keep(natural - BEFORE, natural + AFTER);
    const start = this.grainStart(centre, natural, speed);
    const at = start - this.keptFrom;
    for (let c = 0; c < 2; c++) {
      const audio = this.kept[c];
      const [head, tail] = [this.heads[c], this.tails[c]];
      for (let i = 0; i < HOP; i++) {
        // The very first grain has nothing to rise over.
        const rise = this.fresh ? 1 : WINDOW[i];
        head[i] = tail[i] + rise * audio[at + i];
        tail[i] = WINDOW[HOP + i] * audio[at + HOP + i];
      }
    }
    this.last = start;
    this.fresh = false;
    this.used = 0;
  }

  /** Has the audio from … to at hand. */
  private keep(from: number, to: number) {
    const goesOn = from >= this.keptFrom && from <= this.keptTo;
    if (goesOn)
      for (const kept of this.kept) kept.copyWithin(0, from - this.keptFrom, this.keptTo - this.keptFrom);
    const there = goesOn ? this.keptTo : from;
    this.keptFrom = from;
    this.keptTo = Math.max(there, to);
    const [left, right] = this.kept;
    if (to > there)
      this.readFrames(left.subarray(there - from), right.subarray(there - from), there, to - there);
  }

  private grainStart(centre: number, natural: number, speed: number): number {
    const hit = this.hitNear(centre);
    if (hit !== null) {
      const wanted = Math.round(hit - HOP - (hit - centre) / speed);
      return Math.max(this.keptFrom, Math.min(this.keptTo - GRAIN, wanted));
    }
    if (this.fresh) return natural;
    const [left, right] = this.kept;
    const here = natural - this.keptFrom;
    const goesOn = this.last + HOP - this.keptFrom;
    let best = 0;
    let bestLikeness = -Infinity;
    for (let shift = -SEARCH; shift <= SEARCH; shift += 2) {
      let product = 0;
      let energy = 1e-9;
      for (let i = 0; i < HOP; i += STRIDE) {
        const value = left[here + shift + i] + right[here + shift + i];
        product += value * (left[goesOn + i] + right[goesOn + i]);
        energy += value * value;
      }
      const likeness = product / Math.sqrt(energy) - 1e-7 * Math.abs(shift);
      if (likeness > bestLikeness) [best, bestLikeness] = [shift, likeness];
    }
    return natural + best;
  }

  /** The hit nearest to a frame that a grain around it would hold, or null. */
  private hitNear(centre: number): number | null {
    const next = firstNotBefore(this.hits, centre);
    const [before, after] = [this.hits[next - 1] ?? -Infinity, this.hits[next] ?? Infinity];
    const nearest = after - centre < centre - before ? after : before;
    return Math.abs(nearest - centre) < HOP ? nearest : null;
  }
}
