import { randomFrom } from '@/demo/random';
import {
  ANALYSIS_RATE,
  FRAME_RATE,
  onsetFeatureBuilder,
  REGISTERS,
  type OnsetFeatures,
} from './onsetFeatures';

const TAU = 2 * Math.PI;

function listen(samples: Float32Array, block = 4096): OnsetFeatures {
  const builder = onsetFeatureBuilder();
  for (let i = 0; i < samples.length; i += block) builder.push(samples.subarray(i, i + block));
  return builder.finish();
}

/** Sums sounds, each from its time on, into a recording. */
function record(seconds: number, sounds: { at: number; sound: (t: number) => number }[]): Float32Array {
  const out = new Float32Array(Math.round(seconds * ANALYSIS_RATE));
  for (const { at, sound } of sounds) {
    const first = Math.round(at * ANALYSIS_RATE);
    for (let i = Math.max(0, first); i < out.length; i++) out[i] += sound((i - first) / ANALYSIS_RATE);
  }
  return out;
}

const thud =
  (hz: number, decay = 0.08) =>
  (t: number) =>
    0.6 * Math.sin(TAU * hz * t) * Math.exp(-t / decay);
const strongest = (x: Float32Array, from = 0, to = x.length) => Math.max(...x.subarray(from, to));

/** Frames that are above half the strongest and above their neighbours. */
function peaks(x: Float32Array): number[] {
  const most = strongest(x);
  return Array.from(x.keys()).filter(
    (i) => x[i] > most / 2 && x[i] > (x[i - 1] ?? 0) && x[i] >= (x[i + 1] ?? 0),
  );
}

test('a frame is a hundredth of a second, whatever blocks it comes in', () => {
  const samples = record(3, [{ at: 1, sound: thud(90) }]);
  const whole = listen(samples, samples.length);
  expect(whole.frames).toBeGreaterThanOrEqual(3 * FRAME_RATE - 1);
  expect(whole.frames).toBeLessThanOrEqual(3 * FRAME_RATE + 6);
  expect(listen(samples, 777)).toEqual(whole);
});

test('hits are found in the frames where they begin', () => {
  const times = [0.5, 1.1, 1.7, 2.9];
  const found = peaks(
    listen(
      record(
        4,
        times.map((at) => ({ at, sound: thud(120) })),
      ),
    ).strength,
  );
  expect(found).toHaveLength(times.length);
  times.forEach((time, i) => expect(Math.abs(found[i] / FRAME_RATE - time)).toBeLessThan(0.03));
});

test('low and high hits are told apart', () => {
  const KINDS = [60, 300, 1500, 6000];
  const cycle = Array.from({ length: 24 }, (_, k) => ({
    at: 0.4 + 0.4 * k,
    // Without a hard edge, whose click is in all registers.
    sound: (t: number) =>
      0.5 * Math.sin(TAU * KINDS[k % 4] * t) * Math.min(1, t / 0.02) * Math.exp(-Math.max(0, t) / 0.06),
  }));
  const { registers } = listen(record(10.2, cycle));
  expect(registers).toHaveLength(REGISTERS);
  for (let k = 4; k < 24; k++) {
    const frame = Math.round((0.4 + 0.4 * k) * FRAME_RATE);
    const here = registers.map((x) => strongest(x, frame - 3, frame + 8));
    expect(here.indexOf(Math.max(...here))).toBe(k % 4);
  }
});

test('a held note with vibrato gives hardly any evidence beside the attack of the next one', () => {
  let phase = 0;
  const voice = Float32Array.from({ length: 6 * ANALYSIS_RATE }, (_, i) => {
    const t = i / ANALYSIS_RATE;
    const hz = (t < 4 ? 440 : 587) * 2 ** ((0.5 * Math.sin(TAU * 5.5 * t)) / 12);
    phase += (TAU * hz) / ANALYSIS_RATE;
    let sum = 0;
    for (let h = 1; h <= 6; h++) sum += Math.sin(h * phase) / h;
    return 0.2 * sum * Math.min(1, Math.abs(t - 4) / 0.03);
  });
  const { strength } = listen(voice);
  expect(strongest(strength, 100, 380)).toBeLessThan(0.35 * strongest(strength, 390, 420));
});

test('quiet passages are heard beside loud ones', () => {
  const bars = Array.from({ length: 40 }, (_, k) => ({
    at: 0.25 + k / 2,
    sound: (t: number) => (k < 20 ? 0.05 : 1) * thud(150)(t),
  }));
  const { strength } = listen(record(20.5, bars));
  const [soft, loud] = [strongest(strength, 200, 800), strongest(strength, 1200, 1900)];
  expect(soft).toBeGreaterThan(0.25 * loud);
});

test('evidence has a mean of about one in each register that sounds', () => {
  const random = randomFrom(4);
  const hits = Array.from({ length: 60 }, (_, k) => ({ at: k / 4, sound: () => 0 }));
  const noise = hits.map(({ at }) => ({
    at,
    sound: (t: number) => 0.5 * (random() - 0.5) * Math.exp(-t / 0.03),
  }));
  const { registers } = listen(record(15, noise));
  for (const register of registers) {
    const mean = register.reduce((sum, value) => sum + value, 0) / register.length;
    expect(mean).toBeGreaterThan(0.8);
    expect(mean).toBeLessThan(1.2);
  }
});

test('the level is in decibels of full scale', () => {
  const sine = record(2, [{ at: 0, sound: (t) => 0.5 * Math.sin(TAU * 1000 * t) }]);
  // A sine of half the full scale has 9 dB less power than 1.
  expect(listen(sine).levelDb[100]).toBeCloseTo(10 * Math.log10(0.125), 1);
  expect(listen(new Float32Array(ANALYSIS_RATE)).levelDb[50]).toBeLessThan(-100);
});

test('flatness and centroid tell noise from a tone', () => {
  const random = randomFrom(8);
  const noise = listen(Float32Array.from({ length: 2 * ANALYSIS_RATE }, () => random() - 0.5));
  const tone = listen(record(2, [{ at: 0, sound: (t) => 0.5 * Math.sin(TAU * 440 * t) }]));
  expect(noise.flatness).toBeGreaterThan(0.7);
  expect(tone.flatness).toBeLessThan(0.05);
  expect(tone.centroidHz).toBeGreaterThan(350);
  expect(tone.centroidHz).toBeLessThan(550);
  expect(noise.centroidHz).toBeGreaterThan(2000);
});

test('silence has no evidence, and nothing that is not a number', () => {
  const { registers, strength, flatness, centroidHz } = listen(new Float32Array(2 * ANALYSIS_RATE));
  for (const x of [...registers, strength]) expect(x.every((value) => value === 0)).toBe(true);
  expect([flatness, centroidHz].every(Number.isFinite)).toBe(true);
});
