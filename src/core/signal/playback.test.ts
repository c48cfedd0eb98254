import { clickSound, CLICK_SOUNDS } from './clickSound';
import { Playback, type ClickMix } from './playback';

const BLOCK = 128;
const MIX: ClickMix = { on: true, level: 1, accent: true, balance: 0, split: true };
const plain = Float32Array.from([1, 0.5]);
const accented = Float32Array.from([0.9, 0.4]);

/** Plays for some blocks; the click is alone in the right ear. */
function heard(playback: Playback, blocks: number): { left: Float32Array; right: Float32Array } {
  const left = new Float32Array(blocks * BLOCK);
  const right = new Float32Array(blocks * BLOCK);
  for (let b = 0; b < blocks; b++)
    playback.render(left.subarray(b * BLOCK, (b + 1) * BLOCK), right.subarray(b * BLOCK, (b + 1) * BLOCK));
  return { left, right };
}

const clicksIn = (channel: Float32Array) =>
  [...channel.keys()].filter((i) => channel[i] > 0.3 && (channel[i - 1] ?? 0) < channel[i]);

function loaded(length = 5000): Playback {
  const playback = new Playback();
  // Every frame says its own number, so that what is heard tells where it was played from.
  playback.load([Float32Array.from({ length }, (_, i) => i / 10_000)]);
  playback.setVoices({ plain, accented });
  playback.setMix(MIX);
  return playback;
}

test('each click sounds with its own frame of the audio', () => {
  const playback = loaded();
  playback.setClicks({
    frames: Float64Array.from([0, 1000, 1999.6, 3001]),
    accents: Uint8Array.from([1, 0, 0, 1]),
  });
  playback.start(0);
  const { left, right } = heard(playback, 30);
  expect(clicksIn(right)).toEqual([0, 1000, 2000, 3001]);
  expect(right[0]).toBeCloseTo(0.6 * 0.9);
  expect(right[1000]).toBeCloseTo(0.6);
  expect(left[1000]).toBeCloseTo(0.1);
});

test('started in the middle, clicks keep their places in the audio', () => {
  const playback = loaded();
  playback.setClicks({ frames: Float64Array.from([1000, 2000, 3000]), accents: new Uint8Array(3) });
  playback.start(1900);
  expect(clicksIn(heard(playback, 12).right)).toEqual([100, 1100]);
});

test('a loop turns at its exact frame, and a click on its first frame sounds at every turn', () => {
  const playback = loaded();
  playback.setClicks({ frames: Float64Array.from([500, 700]), accents: new Uint8Array(2) });
  playback.setRoute([{ start: 500, end: 900 }]);
  playback.start(500);
  const { left, right } = heard(playback, 10);
  expect(clicksIn(right)).toEqual([0, 200, 400, 600, 800, 1000, 1200]);
  expect(left[399]).toBeCloseTo(0.0899);
  expect(left[400]).toBeCloseTo(0.05);
});

test('a grid that is changed while it plays is heard from the next click on', () => {
  const playback = loaded();
  playback.setClicks({ frames: Float64Array.from([300, 600, 900, 1200]), accents: new Uint8Array(4) });
  playback.start(0);
  expect(clicksIn(heard(playback, 4).right)).toEqual([300]);
  playback.setClicks({ frames: Float64Array.from([310, 620, 930, 1240]), accents: new Uint8Array(4) });
  expect(clicksIn(heard(playback, 4).right).map((i) => i + 512)).toEqual([620, 930]);
});

test('during a count-in only the click sounds', () => {
  const playback = loaded();
  playback.setClicks({ frames: Float64Array.from([-400, -200, 0, 200]), accents: new Uint8Array(4) });
  playback.start(-400, 100);
  const { left, right } = heard(playback, 6);
  expect(clicksIn(right)).toEqual([0, 200, 400, 600]);
  expect(Math.max(...left.subarray(0, 500))).toBe(0);
  expect(left[520]).toBeGreaterThan(0);
});

test('balance takes the audio away on one side and the click on the other', () => {
  const playback = loaded();
  playback.setClicks({ frames: Float64Array.from([1000]), accents: new Uint8Array(1) });
  playback.setMix({ ...MIX, balance: 1 });
  playback.start(900);
  const clickOnly = heard(playback, 2);
  expect(Math.max(...clickOnly.left)).toBe(0);
  expect(Math.max(...clickOnly.right)).toBeCloseTo(0.6);
  playback.setMix({ ...MIX, balance: -1 });
  playback.start(900);
  expect(Math.max(...heard(playback, 2).right)).toBe(0);
});

test('it ends at the end of the audio and after a stop, without a crack', () => {
  const playback = loaded(300);
  playback.start(0);
  expect(playback.render(new Float32Array(BLOCK), new Float32Array(BLOCK))).toBe(true);
  heard(playback, 2);
  expect(playback.playing).toBe(false);

  const long = loaded();
  long.start(4000);
  heard(long, 2);
  long.stop();
  const { left } = heard(long, 1);
  expect(left[BLOCK - 1]).toBe(0);
  for (let i = 1; i < BLOCK; i++) expect(Math.abs(left[i] - left[i - 1])).toBeLessThan(0.01);
});

test.each(CLICK_SOUNDS)('the sound “%s” is loudest in its first sample', (sound) => {
  for (const accent of [false, true]) {
    const samples = clickSound(sound, accent, 44100);
    expect(samples[0]).toBe(1);
    expect(Math.max(...samples.map(Math.abs))).toBeLessThanOrEqual(1);
    expect(Math.abs(samples[samples.length - 1])).toBeLessThan(0.01);
  }
});

test('legs are played one after the other, and the one that fades ends in silence', () => {
  const playback = loaded();
  playback.setMix({ ...MIX, on: false });
  playback.setRoute([
    { start: 3000, end: 3400 },
    { start: 200, end: 600, fades: true },
  ]);
  playback.start(3000);
  const { left } = heard(playback, 16);
  // The seam itself is heard as it is: frame 3399, then frame 200.
  expect(left[399]).toBeCloseTo(0.3399, 4);
  expect(left[400]).toBeCloseTo(0.02, 4);
  // The way back is not: it fades out and in.
  expect(left[799]).toBeLessThan(0.002);
  expect(left[800]).toBeLessThan(0.01);
  expect(left[800 + 100]).toBeCloseTo(0.31, 3);
});

/** Short knocks at given frames in a soft steady tone. */
function knocks(frames: readonly number[], length: number): Float32Array {
  const audio = Float32Array.from({ length }, (_, i) => 0.05 * Math.sin(i * 0.06));
  for (const frame of frames) for (let i = 0; i < 60; i++) audio[frame + i] += 0.9 * Math.exp(-i / 12);
  return audio;
}

test.each([0.5, 0.75])('at a speed of %d each hit sounds once, with its click', (speed) => {
  const frames = [6000, 13000, 20000, 24000, 31000];
  const playback = new Playback();
  playback.load([knocks(frames, 44100)]);
  playback.setVoices({ plain, accented });
  playback.setMix(MIX);
  playback.setHits(Float64Array.from(frames));
  playback.setClicks({ frames: Float64Array.from(frames), accents: new Uint8Array(frames.length) });
  playback.setSpeed(speed);
  playback.start(0);
  const { left, right } = heard(playback, Math.floor(44100 / speed / BLOCK) - 2);
  const loud = [...left.keys()].filter(
    (i) => left[i] > 0.5 && left[i] > left[i - 1] && left[i] > left[i + 1],
  );
  const clicks = clicksIn(right);
  expect(clicks).toEqual(frames.map((frame) => Math.round(frame / speed)));
  expect(loud).toHaveLength(frames.length);
  loud.forEach((at, k) => expect(Math.abs(at - clicks[k])).toBeLessThanOrEqual(1));
});

test('heard slowly, a tone keeps its pitch and its level', () => {
  const playback = new Playback();
  const hz = 330;
  playback.load([
    Float32Array.from({ length: 44100 }, (_, i) => 0.5 * Math.sin((2 * Math.PI * hz * i) / 44100)),
  ]);
  playback.setMix({ ...MIX, on: false });
  playback.setSpeed(0.5);
  playback.start(0);
  const { left } = heard(playback, 600);
  const middle = left.subarray(10_000, 70_000);
  let crossings = 0;
  for (let i = 1; i < middle.length; i++) if (middle[i - 1] < 0 && middle[i] >= 0) crossings++;
  expect(Math.abs(crossings / (60_000 / 44100) - hz)).toBeLessThan(4);
  expect(Math.max(...middle)).toBeGreaterThan(0.42);
  expect(Math.max(...middle)).toBeLessThan(0.6);
  expect(() => playback.setSpeed(2)).toThrow(RangeError);
});
