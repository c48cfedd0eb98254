/** Frames of a grain; at 44.1 kHz 46 ms: two periods of the lowest tones, short enough for fast notes. */
const GRAIN = 2048;
const HOP = GRAIN / 2;
/** Grains are shifted by up to this much so that waves meet in phase. */
const SEARCH = 420;
/** Every how many frames waves are compared. */
const STRIDE = 6;

const WINDOW = Float32Array.from(
  { length: GRAIN },
  (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / GRAIN),
);

/**
 * Reads audio more slowly than it was played, its pitch held: overlapping grains that follow the slow
 * position and are shifted so that waves meet (waveform similarity, Verhelst & Roelands 1993). Grains that hold a
 * hit are laid so that the hit sounds once, and exactly when the position passes it: a click beside it can be
 * judged as at full speed.
 */
export class SlowReader {
  private channels: readonly Float32Array[] = [];
  private hits: Float64Array = new Float64Array(0);
  private tails = [new Float32Array(HOP), new Float32Array(HOP)];
  private heads = [new Float32Array(HOP), new Float32Array(HOP)];
  /** Frames of the present hop that are used up. */
  private used = HOP;
  /** Where the last grain began in the audio. */
  private last = 0;
  private fresh = true;

  load(channels: readonly Float32Array[]) {
    this.channels = channels;
    this.reset();
  }

  /** Frames of the attacks that are to stay in place, rising. */
  setHits(hits: Float64Array) {
    this.hits = hits;
  }

  /** The next frame has nothing to do with the one before. */
  reset() {
    this.used = HOP;
    this.fresh = true;
    for (const tail of this.tails) tail.fill(0);
  }

  /**
   * Writes `count` frames at `offset`, of which the first sounds at `position` of the audio and the position
   * advances by `speed` a frame.
   */
  read(out: readonly Float32Array[], offset: number, count: number, position: number, speed: number) {
    for (let done = 0; done < count;) {
      if (this.used === HOP) this.nextGrain(position + done * speed, speed);
      const part = Math.min(count - done, HOP - this.used);
      for (let c = 0; c < out.length; c++) {
        const head = this.heads[c];
        for (let i = 0; i < part; i++) out[c][offset + done + i] = head[this.used + i];
      }
      this.used += part;
      done += part;
    }
  }

  private nextGrain(position: number, speed: number) {
    const centre = position + HOP * speed;
    const start = this.grainStart(centre, speed);
    for (let c = 0; c < 2; c++) {
      const audio = this.channels[c] ?? this.channels[0];
      const [head, tail] = [this.heads[c], this.tails[c]];
      for (let i = 0; i < HOP; i++) {
        // The very first grain has nothing to rise over.
        const rise = this.fresh ? 1 : WINDOW[i];
        head[i] = tail[i] + rise * (audio?.[start + i] ?? 0);
        tail[i] = WINDOW[HOP + i] * (audio?.[start + HOP + i] ?? 0);
      }
    }
    this.last = start;
    this.fresh = false;
    this.used = 0;
  }

  private grainStart(centre: number, speed: number): number {
    const hit = this.hitNear(centre);
    if (hit !== null) return Math.round(hit - HOP - (hit - centre) / speed);
    const natural = Math.round(centre - HOP);
    const audio = this.channels[0];
    if (!audio || this.fresh) return natural;
    const goesOn = this.last + HOP;
    let best = 0;
    let bestLikeness = -Infinity;
    for (let shift = -SEARCH; shift <= SEARCH; shift += 2) {
      let product = 0;
      let energy = 1e-9;
      for (let i = 0; i < HOP; i += STRIDE) {
        const here = audio[natural + shift + i] ?? 0;
        product += here * (audio[goesOn + i] ?? 0);
        energy += here * here;
      }
      const likeness = product / Math.sqrt(energy) - 1e-7 * Math.abs(shift);
      if (likeness > bestLikeness) [best, bestLikeness] = [shift, likeness];
    }
    return natural + best;
  }

  /** The hit nearest to a frame that a grain around it would hold, or null. */
  private hitNear(centre: number): number | null {
    let low = 0;
    let high = this.hits.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.hits[middle] < centre) low = middle + 1;
      else high = middle;
    }
    const [before, after] = [this.hits[low - 1] ?? -Infinity, this.hits[low] ?? Infinity];
    const nearest = after - centre < centre - before ? after : before;
    return Math.abs(nearest - centre) < HOP ? nearest : null;
  }
}
