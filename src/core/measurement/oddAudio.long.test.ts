import { randomFrom } from '@/demo/random';
import { encodeWave } from '../formats/encodeWave';
import { opening } from '../../../tests/support/bytes';
import { drums, monoOf } from '../../../tests/support/music';
import { measureAudio } from './measure';
import { measureStream } from './measureStream';
import { measurement, type Measurement } from './schema';

/** What holds of every measurement, whatever was measured. */
function expectSound(found: Measurement, seconds: number) {
  measurement.parse(found);
  const numbers = JSON.stringify(found, (_, value: unknown) =>
    typeof value === 'number' && !Number.isFinite(value) ? 'not finite' : value,
  );
  expect(numbers).not.toContain('not finite');
  const rising = (times: number[]) => times.every((time, i) => i === 0 || time > times[i - 1]);
  expect(rising(found.beats)).toBe(true);
  expect(rising(found.downbeats)).toBe(true);
  for (const time of [...found.beats, ...found.downbeats]) {
    expect(time).toBeGreaterThanOrEqual(0);
    expect(time).toBeLessThanOrEqual(seconds + 0.05);
  }
  const beats = new Set(found.beats);
  expect(found.downbeats.every((time) => beats.has(time))).toBe(true);
  if (found.tempo) {
    expect(found.theOne).not.toBeNull();
    expect(found.meter).not.toBeNull();
    const { sureness, alternatives } = found.tempo;
    for (const other of alternatives) expect(other.sureness).toBeLessThanOrEqual(sureness + 1e-9);
  } else {
    expect(found).toMatchObject({ theOne: null, meter: null, loop: null, beats: [], downbeats: [] });
    expect(found.remarks.map(({ code }) => code)).toContainEqual(
      expect.stringMatching(/only silence|one-shot|nothing repeats/),
    );
  }
  if (found.loop) {
    expect(found.loop.end).toBeGreaterThan(found.loop.start);
    expect(found.loop.end).toBeLessThan(seconds + 0.1);
  }
  if (found.kind === 'oneshot') expect(found.tempo).toBeNull();
}

type Random = () => number;
const RATE = 22050;
const noise = (random: Random, seconds: number) =>
  Float32Array.from({ length: Math.round(seconds * RATE) }, () => random() * 2 - 1);

/** Kinds of material that nobody should be given, each drawn from random numbers. */
const MATERIAL: Record<string, (random: Random) => Float32Array> = {
  silence: (random) => new Float32Array(Math.round(random() * 5 * RATE)),
  'very quiet noise': (random) => noise(random, 3).map((value) => value * 1e-6),
  noise: (random) => noise(random, 0.5 + 8 * random()),
  'fifty milliseconds': (random) => noise(random, 0.05),
  'a handful of samples': (random) => noise(random, (random() * 40) / RATE),
  'direct current': (random) => new Float32Array(2 * RATE).fill(random() * 2 - 1),
  'a single hit': (random) => {
    const at = random() * 0.4;
    return noise(random, 1.2).map((value, i) => {
      const t = i / RATE - at;
      return t < 0 ? 0 : value * Math.exp(-t / 0.04);
    });
  },
  'clicks at random times': (random) => {
    const out = new Float32Array(6 * RATE);
    for (let k = 0; k < 30; k++) out[Math.floor(random() * out.length)] = random() * 2 - 1;
    return out;
  },
  'a sweep': () => Float32Array.from({ length: 5 * RATE }, (_, i) => Math.sin((i / RATE) ** 2 * 900)),
  'clipping far over full scale': (random) =>
    noise(random, 3).map((value) => Math.max(-9, Math.min(9, value * 90))),
  'a speech-like murmur': (random) => {
    let level = 0;
    let held = 0;
    let phase = 0;
    return noise(random, 6).map((value, i) => {
      if (i % 1700 === 0) held = random() < 0.35 ? 0 : random();
      level += 0.002 * (held - level);
      phase += (2 * Math.PI * (110 + 30 * held)) / RATE;
      return level * (0.6 * Math.sin(phase) + 0.3 * Math.sin(3 * phase) + 0.1 * value);
    });
  },
  'not a number here and there': (random) =>
    noise(random, 2).map((value) => (random() < 0.01 ? NaN : random() < 0.01 ? Infinity : value)),
  'denormal small': () => new Float32Array(2 * RATE).fill(1e-42),
};

describe.each(Object.entries(MATERIAL))('%s', (_, make) => {
  test.each([1, 2, 3])('seed %i gets a sound answer or none', (seed) => {
    const mono = make(randomFrom(seed * 101));
    expectSound(measureAudio(mono), mono.length / RATE);
  });
});

test('a tempo that changes in the middle is answered, and not with more confidence than a steady one', () => {
  const first = monoOf(drums({ bpm: 100, bars: 8 }));
  const second = monoOf(drums({ bpm: 131, bars: 8 }));
  const both = new Float32Array(first.length + second.length);
  both.set(first);
  both.set(second, first.length);
  const half = both.filter((_value, i) => i % 2 === 0);
  const found = measureAudio(half);
  expectSound(found, half.length / RATE);
  expect(found.tempo).not.toBeNull();
});

test.each([
  [8000, 1],
  [11025, 2],
  [48000, 6],
  [96000, 2],
  [192000, 1],
])('%i Hz with %i channels keeps its tempo', async (rate, channels) => {
  const { left } = drums({ bpm: 104, bars: 4 });
  // Nearest samples will do: what is looked at is the tempo.
  const resampled = Float32Array.from(
    { length: Math.floor((left.length * rate) / 44100) },
    (_, i) => left[Math.floor((i * 44100) / rate)],
  );
  const file = encodeWave(
    Array.from({ length: channels }, () => resampled),
    rate,
  );
  const { measurement: found, audio } = await measureStream(opening(file, 65536));
  expect(audio).toMatchObject({ sampleRate: rate, channels });
  expectSound(found, resampled.length / rate);
  expect(Math.abs(found.tempo!.bpm - 104)).toBeLessThan(0.1);
});

describe('measuring a part', () => {
  const file = encodeWave([drums({ bpm: 100, bars: 12 }).left], 44100);
  test('gives times of the file', async () => {
    const { measurement: found } = await measureStream(opening(file, 65536), {
      part: { from: 4.8, to: 14.4 },
    });
    expect(Math.abs(found.tempo!.bpm - 100)).toBeLessThan(0.1);
    expect(found.beats[0]).toBeGreaterThan(4.7);
    expect(found.beats.at(-1)!).toBeLessThan(14.5);
    expect(found.durationSeconds).toBeCloseTo(28.8, 2);
  });
  test('that lies after the end is refused in words', async () => {
    await expect(measureStream(opening(file, 65536), { part: { from: 99, to: 120 } })).rejects.toThrow(
      /nothing begins at 99 s/,
    );
  });
});

test('the loudness of the file does not change its rhythm', () => {
  const mono = monoOf(drums({ bpm: 93, bars: 6 })).filter((_value, i) => i % 2 === 0);
  const loud = measureAudio(mono);
  const quiet = measureAudio(mono.map((value) => value * 0.02));
  expect(quiet.tempo!.bpm).toBeCloseTo(loud.tempo!.bpm, 2);
  expect(quiet.theOne).toBeCloseTo(loud.theOne!, 2);
  expect(quiet.kind).toBe(loud.kind);
});

test('what somebody expects of the tempo chooses between levels', () => {
  const mono = monoOf(drums({ bpm: 84, bars: 8 })).filter((_value, i) => i % 2 === 0);
  const belief = (bpm?: number) => {
    const { tempo } = measureAudio(mono, bpm ? { expected: { tempo: { bpm, sureness: 1 } } } : {});
    const all = [{ bpm: tempo!.bpm, sureness: tempo!.sureness }, ...tempo!.alternatives];
    return all.find((entry) => Math.abs(entry.bpm / 168 - 1) < 0.01)?.sureness ?? 0;
  };
  expect(belief(168)).toBeGreaterThan(belief());
});

test('measuring can be called off at every stage', () => {
  const mono = monoOf(drums({ bpm: 100, bars: 4 })).filter((_value, i) => i % 2 === 0);
  for (const wanted of ['listening', 'rhythm', 'decision'])
    expect(() =>
      measureAudio(mono, {}, (stage) => {
        if (stage === wanted) throw new Error('called off');
      }),
    ).toThrow('called off');
});
