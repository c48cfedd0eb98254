import type { DecodedAudio } from './decodedAudio';
import { OpenSample } from './openSample';
import { SoundCache } from './soundCache';

/** What decoded samples may take when nobody uses them, bytes: an hour and a half of stereo, or so. */
const MOST_BYTES = 512 * 1024 * 1024;

/** Samples whose audio is in the page. */
export class SampleCache extends SoundCache<OpenSample> {
  /** `rate`: frames a second that everything is played at. */
  constructor(
    private readonly rate: () => number,
    mostBytes = MOST_BYTES,
  ) {
    super(mostBytes);
  }

  /** Opens a sample, unless it is in the page already. `seconds`: its length where it is known. */
  take(sampleId: string, seconds: number | null): OpenSample {
    return this.hold(sampleId, () => new OpenSample(sampleId, seconds, this.rate()));
  }

  /** All of a sample's audio; null where it cannot be had. */
  async wholeOf(sampleId: string): Promise<DecodedAudio | null> {
    const sample = this.take(sampleId, null);
    try {
      return await sample.whole;
    } finally {
      this.giveBack(sample);
    }
  }

  giveBack(sample: OpenSample) {
    this.letGo(sample.sampleId, sample);
  }
}
