import type { Grid } from '../rhythm/grid';
import type { ClickMix } from './click';
import { FADE_FRAMES, Mixer } from './mixer';
import { AS_RECORDED, PlainReader } from './voice';

const BLOCK = 128;
/** A thousand frames a second: the frame says the time. */
const RATE = 1000;
const MIX: ClickMix = {
  ...{ on: true, level: 1, accent: true, balance: 0, split: true, pace: 1, subdivision: 1 },
  ...{ drums: false, swing: 0.5 },
};
const drums = { big: Float32Array.of(0.8), side: Float32Array.of(0.6), light: Float32Array.of(0.9) };
const plain = Float32Array.from([1, 0.5]);
const accented = Float32Array.from([0.9, 0.4]);
/** A click on each of these frames. */
const every = (frames: number, first = 0): Grid => ({
  tempoBpm: (60 * RATE) / frames,
  one: first / RATE,
  meter: { beatsPerBar: 4, beatUnit: 4 },
  movingBeats: null,
});

/** Plays for some blocks; the click is alone in the right ear. */
function heard(mixer: Mixer, blocks: number): { left: Float32Array; right: Float32Array } {
  const left = new Float32Array(blocks * BLOCK);
  const right = new Float32Array(blocks * BLOCK);
  for (let b = 0; b < blocks; b++)
    mixer.render(left.subarray(b * BLOCK, (b + 1) * BLOCK), right.subarray(b * BLOCK, (b + 1) * BLOCK));
  return { left, right };
}

/** Begins so that the next frame heard is that of `position`. */
function begin(mixer: Mixer, position: number, audibleFrom?: number) {
  mixer.start(position, audibleFrom);
  mixer.render(new Float32Array(FADE_FRAMES), new Float32Array(FADE_FRAMES));
}

const clicksIn = (channel: Float32Array) =>
  [...channel.keys()].filter((i) => channel[i] > 0.3 && (channel[i - 1] ?? 0) < channel[i]);

const alone = (channels: Float32Array[], mix = MIX): Mixer => {
  const mixer = new Mixer(RATE);
  mixer.put('a', new PlainReader(channels, 0, channels[0].length), 0, AS_RECORDED);
  mixer.setClickSamples({ plain, accented, drums });
  mixer.setMix(mix);
  return mixer;
};

/** Every frame says its own number, so that what is heard tells where it was played from. */
const loaded = (length = 5000) => alone([Float32Array.from({ length }, (_, i) => i / 10_000)]);

test('each click sounds with its own frame of the audio', () => {
  const mixer = loaded();
  mixer.setGrid({ ...every(1000), movingBeats: [0, 1, 1.9996, 3.001, 4.5] });
  begin(mixer, 0);
  const { left, right } = heard(mixer, 30);
  expect(clicksIn(right)).toEqual([0, 1000, 2000, 3001]);
  expect(right[0]).toBeCloseTo(0.6 * 0.9);
  expect(right[1000]).toBeCloseTo(0.6);
  expect(left[1000]).toBeCloseTo(0.1);
});

test('drums instead of clicks stand on the same beats, and between them', () => {
  const mixer = loaded();
  mixer.setGrid(every(1000));
  mixer.setMix({ ...MIX, drums: true, swing: 0.6 });
  begin(mixer, 0);
  const { right } = heard(mixer, 20);
  const struck = [...right.keys()].filter((i) => right[i] > 0.05);
  expect(struck).toEqual([0, 600, 1000, 1600, 2000]);
  // The big drum and something light; the side drum and something light.
  expect(right[0]).toBeCloseTo(0.7 * 0.8 + 0.15 * 0.9);
  expect(right[1000]).toBeCloseTo(0.45 * 0.6 + 0.15 * 0.9);
});

test('started in the middle, clicks keep their places in the audio', () => {
  const mixer = loaded();
  mixer.setGrid(every(1000));
  begin(mixer, 1900);
  expect(clicksIn(heard(mixer, 12).right)).toEqual([100, 1100]);
});

test('a loop turns at its exact frame, and a click on its first frame sounds at every turn', () => {
  const mixer = loaded();
  mixer.setGrid(every(200, 500));
  mixer.setSegments([{ start: 500, end: 900 }]);
  begin(mixer, 500);
  const { left, right } = heard(mixer, 10);
  expect(clicksIn(right)).toEqual([0, 200, 400, 600, 800, 1000, 1200]);
  expect(left[399]).toBeCloseTo(0.0899);
  expect(left[400]).toBeCloseTo(0.05);
});

test('a grid that is changed while it plays is heard from the next click on', () => {
  const mixer = loaded();
  mixer.setGrid(every(300, 300));
  begin(mixer, 0);
  expect(clicksIn(heard(mixer, 4).right)).toEqual([0, 300]);
  mixer.setGrid(every(310, 310));
  expect(clicksIn(heard(mixer, 4).right).map((i) => i + 512)).toEqual([620, 930]);
});

test('during a count-in only the click sounds', () => {
  const mixer = loaded();
  mixer.setGrid(every(200));
  begin(mixer, -400, 100);
  const { left, right } = heard(mixer, 6);
  expect(clicksIn(right)).toEqual([0, 200, 400, 600]);
  expect(Math.max(...left.subarray(0, 500))).toBe(0);
  expect(left[520]).toBeGreaterThan(0);
});

test('balance takes the audio away on one side and the click on the other', () => {
  const mixer = loaded();
  mixer.setGrid(every(1000, 3000));
  mixer.setMix({ ...MIX, balance: 1 });
  begin(mixer, 900);
  const clickOnly = heard(mixer, 2);
  expect(Math.max(...clickOnly.left)).toBe(0);
  expect(Math.max(...clickOnly.right)).toBeCloseTo(0.6);
  mixer.setMix({ ...MIX, balance: -1 });
  begin(mixer, 900);
  expect(Math.max(...heard(mixer, 2).right)).toBe(0);
});

test('it ends at the end of the audio and after a stop, without a crack', () => {
  const mixer = loaded(300);
  begin(mixer, 0);
  expect(mixer.render(new Float32Array(BLOCK), new Float32Array(BLOCK))).toBe(true);
  heard(mixer, 2);
  expect(mixer.playing).toBe(false);

  const long = loaded();
  begin(long, 4000);
  heard(long, 2);
  long.stop();
  const { left } = heard(long, 1);
  expect(left[BLOCK - 1]).toBe(0);
  for (let i = 1; i < BLOCK; i++) expect(Math.abs(left[i] - left[i - 1])).toBeLessThan(0.01);
});

test('legs are played one after the other, and the one that fades ends in silence', () => {
  const mixer = loaded();
  mixer.setMix({ ...MIX, on: false });
  mixer.setSegments([
    { start: 3000, end: 3400 },
    { start: 200, end: 600, fades: true },
  ]);
  begin(mixer, 3000);
  const { left } = heard(mixer, 16);
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

const hitsIn = (left: Float32Array) =>
  [...left.keys()].filter((i) => left[i] > 0.5 && left[i] > (left[i - 1] ?? 0) && left[i] > left[i + 1]);

test.each([0.5, 0.75])('at a speed of %d each hit sounds once, with its click', (speed) => {
  const frames = [6000, 13000, 20000, 24000, 38000];
  const mixer = alone([knocks(frames, 44100)]);
  mixer.setHits(Float64Array.from(frames));
  mixer.setGrid({ ...every(1000, 6000), movingBeats: frames.map((frame) => frame / RATE) });
  mixer.setSpeed(speed);
  begin(mixer, 0);
  const { left, right } = heard(mixer, Math.floor(44100 / speed / BLOCK) - 2);
  const loud = hitsIn(left);
  const clicks = clicksIn(right);
  expect(clicks).toEqual(frames.map((frame) => Math.round(frame / speed)));
  expect(loud).toHaveLength(frames.length);
  loud.forEach((at, k) => expect(Math.abs(at - clicks[k])).toBeLessThanOrEqual(1));
});

test.each([1, 0.5, 0.75])(
  'at a speed of %d a hit on the first frame of a loop sounds at every turn',
  (speed) => {
    const mixer = alone([knocks([5000, 8000, 11000], 20000)], { ...MIX, on: false });
    mixer.setHits(Float64Array.from([5000, 8000, 11000]));
    mixer.setSpeed(speed);
    mixer.setSegments([{ start: 5000, end: 11000 }]);
    begin(mixer, 5000);
    const { left } = heard(mixer, Math.ceil(30000 / speed / BLOCK));
    const wanted = Array.from({ length: 11 }, (_, k) => (3000 * k) / speed);
    const found = hitsIn(left);
    expect(found).toHaveLength(wanted.length);
    found.forEach((at, k) => expect(Math.abs(at - wanted[k])).toBeLessThanOrEqual(1));
  },
);

test('heard slowly, a tone keeps its pitch and its level', () => {
  const hz = 330;
  const tone = Float32Array.from({ length: 44100 }, (_, i) => 0.5 * Math.sin((2 * Math.PI * hz * i) / 44100));
  const mixer = alone([tone], { ...MIX, on: false });
  mixer.setSpeed(0.5);
  begin(mixer, 0);
  const { left } = heard(mixer, 600);
  const middle = left.subarray(10_000, 70_000);
  let crossings = 0;
  for (let i = 1; i < middle.length; i++) if (middle[i - 1] < 0 && middle[i] >= 0) crossings++;
  expect(Math.abs(crossings / (60_000 / 44100) - hz)).toBeLessThan(4);
  expect(Math.max(...middle)).toBeGreaterThan(0.42);
  expect(Math.max(...middle)).toBeLessThan(0.6);
  expect(() => mixer.setSpeed(2)).toThrow(RangeError);
});

describe('several voices', () => {
  const level = (value: number, length = 2000) =>
    new PlainReader([new Float32Array(length).fill(value)], 0, length);
  const WHOLE = { ...MIX, on: false, split: false };

  test('sound together, each from its own frame of the clock; the last of them ends it', () => {
    const mixer = new Mixer(RATE);
    mixer.setMix(WHOLE);
    mixer.put('a', level(0.25, 600), 0, AS_RECORDED);
    mixer.put('b', level(0.5, 600), 400, AS_RECORDED);
    begin(mixer, 0);
    const { left } = heard(mixer, 10);
    expect([300, 450, 700, 1000].map((at) => left[at])).toEqual([0.25, 0.75, 0.5, 0]);
    expect(mixer.playing).toBe(false);
  });

  test.each([1, 0.5])('can be put, muted and taken away while they play, at a speed of %d', (speed) => {
    const mixer = new Mixer(RATE);
    mixer.setMix(WHOLE);
    mixer.put('a', level(0.25, 60_000), 0, AS_RECORDED);
    mixer.setSpeed(speed);
    begin(mixer, 0);
    // Slowly the next grain brings the change.
    const soon = () => heard(mixer, speed === 1 ? 1 : 18).left;
    const now = () => Number(heard(mixer, 1).left[BLOCK - 1].toFixed(4));
    soon();
    expect(now()).toBe(0.25);
    mixer.put('b', level(0.5, 60_000), 0, AS_RECORDED);
    soon();
    expect(now()).toBe(0.75);
    mixer.hear('a', { ...AS_RECORDED, muted: true });
    soon();
    expect(now()).toBe(0.5);
    mixer.take('b');
    mixer.hear('a', AS_RECORDED);
    soon();
    expect(now()).toBe(0.25);
    mixer.clear();
    expect(mixer.playing).toBe(false);
    expect(now()).toBe(0);
  });

  test('a reader of its own kind is asked for its frames in order, and told of every jump', () => {
    const jumps: number[] = [];
    let next = 0;
    const mixer = new Mixer(RATE);
    mixer.setMix(WHOLE);
    mixer.put(
      'stretched',
      {
        frames: 4000,
        jump: (frame) => {
          jumps.push(frame);
          next = frame;
        },
        read: (left, right, count) => {
          for (let i = 0; i < count; i++) left[i] = right[i] = next++ / 10_000;
        },
      },
      1000,
      AS_RECORDED,
    );
    mixer.setSegments([{ start: 1500, end: 2500 }]);
    begin(mixer, 500);
    const { left } = heard(mixer, 24);
    expect(left[600]).toBeCloseTo(0.01, 4);
    expect(left[2001]).toBeCloseTo(0.0501, 4);
    expect(jumps).toEqual([0, 500, 500]);
  });
});
