import { OpenSample } from './openSample';

/** What decoded samples may take when nobody uses them, bytes: an hour and a half of stereo, or so. */
const MOST_BYTES = 512 * 1024 * 1024;

/**
 * Samples whose audio is in the page: those in use, however large, and of the others those that were used last, within a
 * bound in bytes. Who takes one gives it back.
 */
export class SampleCache {
  private readonly held = new Map<string, { sample: OpenSample; users: number }>();

  /** `rate`: frames a second that everything is played at. */
  constructor(
    private readonly rate: () => number,
    private readonly mostBytes = MOST_BYTES,
  ) {}

  /** Opens a sample, unless it is in the page already. `seconds`: its length where it is known. */
  take(sampleId: string, seconds: number | null): OpenSample {
    const before = this.held.get(sampleId);
    if (before && before.sample.fault === null) {
      before.users++;
      return before.sample;
    }
    const sample = new OpenSample(sampleId, seconds, this.rate());
    this.held.set(sampleId, { sample, users: 1 });
    return sample;
  }

  /** One user less; what nobody waits for any more is not decoded to its end. */
  giveBack(sample: OpenSample) {
    const one = this.held.get(sample.sampleId);
    if (one?.sample !== sample) return;
    one.users--;
    // Used last: it stands behind all others.
    this.held.delete(sample.sampleId);
    if (one.users > 0 || sample.audio) this.held.set(sample.sampleId, one);
    else sample.close();
    this.makeRoom();
  }

  /** Memory of all that is held, bytes. */
  get bytes(): number {
    return [...this.held.values()].reduce((sum, { sample }) => sum + sample.bytes, 0);
  }

  private makeRoom() {
    let { bytes } = this;
    for (const [id, { sample, users }] of [...this.held]) {
      if (bytes <= this.mostBytes) return;
      if (users > 0) continue;
      bytes -= sample.bytes;
      this.held.delete(id);
      sample.close();
    }
  }
}
