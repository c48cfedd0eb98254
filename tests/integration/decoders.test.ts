import { decodeAudio } from '@/core/formats/decode';
import { readEntry } from '@/server/entry';
import { closeDatabase } from '@/store/database';
import { opening } from '../support/bytes';
import { encoded, type Encoded } from '../support/encoders';
import { drumFile } from '../support/files';
import { bring, emptyLibrary, measureAll } from '../support/library';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

const wav = drumFile({ bpm: 110, bars: 4, one: 0.25 });

async function monoOf(bytes: Uint8Array) {
  const samples: number[] = [];
  const summary = await decodeAudio(opening(bytes, 4001), (block) => {
    for (let i = 0; i < block[0].length; i++)
      samples.push(block.reduce((sum, channel) => sum + channel[i], 0) / block.length);
  });
  return { ...summary, samples };
}

/** Shift in frames at which two recordings agree best. */
function lag(a: number[], b: number[], reach = 1500): number {
  let best = 0;
  let most = -Infinity;
  for (let shift = -reach; shift <= reach; shift++) {
    let sum = 0;
    let energy = 1e-9;
    for (let i = 20_000; i < 30_000; i++) {
      sum += a[i] * b[i + shift];
      energy += b[i + shift] ** 2;
    }
    sum /= Math.sqrt(energy);
    if (sum > most) {
      most = sum;
      best = shift;
    }
  }
  return best;
}

test('FLAC gives the very same samples', async () => {
  const [from, plain] = [await monoOf(encoded(wav, 'flac')), await monoOf(wav)];
  expect(from.format).toBe('flac');
  expect(from.frames).toBe(plain.frames);
  expect(from.samples.every((value, i) => value === plain.samples[i])).toBe(true);
});

test.each([
  ['mp3', 'mp3', 44100],
  ['ogg', 'ogg-vorbis', 44100],
] as const)('%s comes without its encoder’s delay and padding', async (as, format, rate) => {
  const [from, plain] = [await monoOf(encoded(wav, as)), await monoOf(wav)];
  expect(from).toMatchObject({ format, sampleRate: rate, frames: plain.frames, warnings: [] });
  expect(lag(plain.samples, from.samples)).toBe(0);
});

test('Opus comes at its own rate, of the same length', async () => {
  const [from, plain] = [await monoOf(encoded(wav, 'opus')), await monoOf(wav)];
  expect(from).toMatchObject({ format: 'ogg-opus', sampleRate: 48000 });
  expect(Math.abs(from.frames / 48000 - plain.frames / 44100)).toBeLessThan(0.001);
});

test.each(['flac', 'mp3', 'ogg', 'opus'] as Encoded[])(
  'a %s file is told by its content and measured like its WAV',
  async (as) => {
    const { sampleId } = await bring('misnamed.wav', encoded(wav, as));
    await measureAll();
    const { settled, summary } = await readEntry(sampleId);
    expect(summary.fault).toBeNull();
    expect(Math.abs(settled.grid!.tempoBpm - 110)).toBeLessThan(0.05);
    expect(Math.abs(settled.grid!.one - 0.25)).toBeLessThan(0.006);
  },
);

test.each(['flac', 'mp3', 'ogg', 'opus'] as Encoded[])(
  'a %s file that was cut off in the middle gives its first half',
  async (as) => {
    const whole = encoded(wav, as);
    const { frames, sampleRate } = await monoOf(whole.subarray(0, whole.length / 2));
    expect(frames / sampleRate).toBeGreaterThan(2);
    expect(frames / sampleRate).toBeLessThan(8);
  },
);
