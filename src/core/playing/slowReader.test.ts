import { randomFrom } from '@/demo/random';
import { SlowReader } from './slowReader';

const RATE = 44100;
const TAU = 2 * Math.PI;

function tone(seconds: number, hz: number, rate = RATE): Float32Array {
  return Float32Array.from(
    { length: Math.round(seconds * rate) },
    (_, i) => 0.5 * Math.sin((TAU * hz * i) / rate),
  );
}

/** Short clicks of noise, each beginning at full strength. */
function clicks(seconds: number, at: readonly number[]): Float32Array {
  const random = randomFrom(2);
  const out = new Float32Array(Math.round(seconds * RATE));
  for (const frame of at)
    for (let i = 0; i < 300; i++) out[frame + i] = 0.8 * Math.exp(-i / 60) * (i === 0 ? 1 : random() * 2 - 1);
  return out;
}

/** Reads channels, and silence around them. */
const slowly = (channels: readonly Float32Array[]) =>
  new SlowReader((left, right, from, count) => {
    for (let i = 0; i < count; i++) {
      left[i] = channels[0][from + i] ?? 0;
      right[i] = (channels[1] ?? channels[0])[from + i] ?? 0;
    }
  });

/** What is heard of `channels` from a position on, in blocks of the audio thread. */
function hear(
  channels: readonly Float32Array[],
  {
    speed,
    seconds,
    from = 0,
    hits = [],
    block = 128,
  }: {
    speed: number;
    seconds: number;
    from?: number;
    hits?: readonly number[];
    block?: number;
  },
): Float32Array[] {
  const reader = slowly(channels);
  reader.setHits(Float64Array.from(hits));
  const count = Math.round(seconds * RATE);
  const out = [new Float32Array(count), new Float32Array(count)];
  for (let done = 0; done < count; done += block)
    reader.read(
      out[0].subarray(done),
      out[1].subarray(done),
      Math.min(block, count - done),
      from + done * speed,
      speed,
    );
  return out;
}

const rms = (x: Float32Array) => Math.sqrt(x.reduce((sum, value) => sum + value * value, 0) / x.length);
/** Rising zero crossings a second. */
function pitchOf(x: Float32Array): number {
  let crossings = 0;
  for (let i = 1; i < x.length; i++) if (x[i - 1] < 0 && x[i] >= 0) crossings++;
  return (crossings * RATE) / x.length;
}
/** First frames of what is louder than a quarter of full scale after at least 60 ms of less. */
function attacks(x: Float32Array): number[] {
  const found: number[] = [];
  let quietSince = -Infinity;
  for (let i = 0; i < x.length; i++) {
    if (Math.abs(x[i]) < 0.25) continue;
    if (i - quietSince > 0.06 * RATE) found.push(i);
    quietSince = i;
  }
  return found;
}

describe.each([0.5, 0.75])('at %d of the speed', (speed) => {
  test.each([110, 440, 1318])('a tone of %i Hz keeps its pitch and its loudness', (hz) => {
    const [left] = hear([tone(4, hz)], { speed, seconds: 3 });
    const heard = left.subarray(RATE / 2);
    expect(Math.abs(pitchOf(heard) / hz - 1)).toBeLessThan(0.01);
    expect(Math.abs(20 * Math.log10(rms(heard) / (0.5 * Math.SQRT1_2)))).toBeLessThan(1);
  });

  test('hits sound once each, and exactly when the position passes them', () => {
    const at = [11025, 33075, 50000, 77777];
    const [left] = hear([clicks(3, at)], { speed, seconds: 2.6 / speed, hits: at });
    const found = attacks(left);
    expect(found).toHaveLength(at.length);
    found.forEach((frame, i) => expect(Math.abs(frame - at[i] / speed)).toBeLessThanOrEqual(2));
  });

  test('blocks of any size give the same', () => {
    const at = [9000, 40000];
    const channels = [clicks(2, at).map((value, i) => value + 0.1 * Math.sin(i / 30))];
    const small = hear(channels, { speed, seconds: 1.5, hits: at, block: 128 });
    const large = hear(channels, { speed, seconds: 1.5, hits: at, block: 3000 });
    const apart = small[0].reduce((most, value, i) => Math.max(most, Math.abs(value - large[0][i])), 0);
    expect(apart).toBeLessThan(1e-6);
  });
});

test('where there are no hits in a list, those in the audio are not lost', () => {
  const at = [20000, 60000];
  const [left] = hear([clicks(3, at)], { speed: 0.5, seconds: 4 });
  expect(rms(left)).toBeGreaterThan(0.3 * rms(clicks(3, at)));
});

test('two channels are read at one place, a single one is heard on both sides', () => {
  const [left, right] = hear([tone(2, 300), tone(2, 300).map((value) => -0.5 * value)], {
    speed: 0.5,
    seconds: 2,
  });
  for (let i = 0; i < left.length; i += 97) expect(right[i]).toBeCloseTo(-0.5 * left[i], 6);
  const mono = hear([tone(2, 300)], { speed: 0.5, seconds: 1 });
  expect(mono[1]).toEqual(mono[0]);
});

test('before the beginning and after the end there is silence', () => {
  const [late] = hear([tone(1, 300)], { speed: 0.5, seconds: 1, from: 1.2 * RATE });
  expect(rms(late)).toBe(0);
  const [early] = hear([tone(1, 300)], { speed: 0.5, seconds: 0.5, from: -RATE });
  expect(rms(early)).toBe(0);
});

test('after a jump nothing of the place before is heard', () => {
  const audio = new Float32Array(3 * RATE);
  audio.set(tone(1, 500));
  const reader = slowly([audio]);
  const out = [new Float32Array(4096), new Float32Array(4096)];
  reader.read(out[0], out[1], 4096, 0, 0.5);
  expect(rms(out[0])).toBeGreaterThan(0.2);
  reader.jump();
  reader.read(out[0], out[1], 4096, 2 * RATE, 0.5);
  expect(rms(out[0])).toBe(0);
});
