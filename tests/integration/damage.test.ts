import { decodeAudio } from '@/core/formats/decode';
import { encodeWave } from '@/core/formats/encodeWave';
import { randomFrom } from '@/demo/random';
import { opening, together } from '../support/bytes';
import { encoded } from '../support/encoders';
import { drums, monoOf } from '../support/music';

const { sampleRate } = drums({ bpm: 100, bars: 1 });
const sound = monoOf(drums({ bpm: 100, bars: 4, seed: 4 }));
const wav = encodeWave([sound, sound], sampleRate, 16);

async function heard(bytes: Uint8Array) {
  const blocks: Float32Array[] = [];
  const { warnings } = await decodeAudio(opening(bytes), (block) => blocks.push(block[0].slice()));
  return { samples: blocks.flatMap((block) => [...block]), warnings };
}

test.each(['mp3', 'mp3Changing', 'mp3Ffmpeg', 'mp3FfmpegChanging'] as const)(
  '%s: some hundred bytes that are missing are told of, and what follows stays in its place',
  async (as) => {
    const whole = encoded(wav, as);
    const before = await heard(whole);
    expect(before.warnings).toEqual([]);
    const random = randomFrom(6);
    for (let i = 0; i < 6; i++) {
      const at = 4000 + Math.floor(random() * (whole.length * 0.6 - 4000));
      const count = 300 + Math.floor(200 * random());
      const { samples, warnings } = await heard(together(whole.subarray(0, at), whole.subarray(at + count)));
      expect(warnings.length).toBeGreaterThan(0);
      expect(samples).toHaveLength(before.samples.length);
      const end = Math.floor(samples.length * 0.9);
      for (let n = end; n < samples.length; n++)
        if (Math.abs(samples[n] - before.samples[n]) > 1e-3)
          throw new Error(`${count} bytes missing at ${at}: other sound at ${n}`);
    }
  },
);
