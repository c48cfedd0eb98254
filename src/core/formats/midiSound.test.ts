import { recordedMidi, type PlayedNote } from './midiRecording';
import { inBlocks } from '../../../tests/support/bytes';
import { byteReader } from './byteReader';
import { decodeMidi } from './midiSound';

const RATE = 44100;
const DRUMS = 9;
const note = (time: number, key: number, more: Partial<PlayedNote> = {}): PlayedNote => ({
  time,
  key,
  seconds: 0.4,
  velocity: 100,
  ...more,
});

/** What the notes sound like, and what is said of it. */
async function play(notes: readonly PlayedNote[]) {
  const blocks: Float32Array[] = [];
  const summary = await decodeMidi(byteReader(inBlocks(recordedMidi(notes), 1000)), ([channel], rate) => {
    expect(rate).toBe(RATE);
    blocks.push(channel.slice());
  });
  const samples = new Float32Array(blocks.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const block of blocks) {
    samples.set(block, at);
    at += block.length;
  }
  return { summary, samples };
}

const loudest = (x: Float32Array) => x.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
const between = (x: Float32Array, from: number, to: number) =>
  x.subarray(Math.round(from * RATE), Math.round(to * RATE));

test.each([40, 57, 69, 81])('key %i sounds at its pitch', async (key) => {
  const { samples } = await play([note(0.1, key, { seconds: 1 })]);
  const hz = 440 * 2 ** ((key - 69) / 12);
  // The period is the lag at which the sound is most like itself.
  const part = between(samples, 0.2, 0.7);
  const likeness = (lag: number) => {
    let sum = 0;
    for (let i = 0; i + lag < part.length; i++) sum += part[i] * part[i + lag];
    return sum / (part.length - lag);
  };
  const period = RATE / hz;
  const lags = Array.from({ length: 41 }, (_, i) => Math.round(period * (0.9 + i * 0.005)));
  const best = lags.reduce((a, b) => (likeness(b) > likeness(a) ? b : a));
  expect(Math.abs(best / period - 1)).toBeLessThan(0.012);
});

test('notes begin where they stand, to a tick, at full strength', async () => {
  const times = [0.25, 0.731, 1.5];
  const { samples } = await play(times.map((time) => note(time, 64, { seconds: 0.2 })));
  for (const time of times) {
    expect(loudest(between(samples, time - 0.03, time - 0.002))).toBeLessThan(0.02);
    expect(loudest(between(samples, time, time + 0.006))).toBeGreaterThan(0.1);
  }
});

test('who strikes harder is louder', async () => {
  const loudness = async (velocity: number) => loudest((await play([note(0, 60, { velocity })])).samples);
  const [soft, middle, hard] = [await loudness(30), await loudness(70), await loudness(120)];
  expect(middle).toBeGreaterThan(2 * soft);
  expect(hard).toBeGreaterThan(1.7 * middle);
});

test('a note ends soon after it is let go', async () => {
  const { samples } = await play([note(0, 60, { seconds: 0.5 }), note(2, 60, { seconds: 0.1 })]);
  expect(loudest(between(samples, 0.3, 0.48))).toBeGreaterThan(0.03);
  expect(loudest(between(samples, 0.9, 1.9))).toBeLessThan(0.01);
});

test('it lasts until the last note has died away', async () => {
  const { samples, summary } = await play([note(0, 60), note(3, 64, { seconds: 0.75 })]);
  expect(summary).toEqual(expect.objectContaining({ format: 'midi', channels: 1, sampleRate: RATE }));
  expect(summary.frames).toBe(samples.length);
  expect(samples.length / RATE).toBeGreaterThan(3.75);
  expect(samples.length / RATE).toBeLessThan(4);
});

test('drums alone have no pitch; one note of another channel gives it one', async () => {
  const drums = [0, 0.5, 1].map((time) => note(time, 38, { channel: DRUMS }));
  expect((await play(drums)).summary.unpitched).toBe(true);
  expect((await play([...drums, note(0.25, 60)])).summary.unpitched).toBe(false);
});

test('kick, snare and hat are told apart by their registers', async () => {
  /** Mean number of sign changes a second. */
  const brightness = async (key: number) => {
    const { samples } = await play([note(0, key, { channel: DRUMS })]);
    const part = between(samples, 0, 0.04);
    let changes = 0;
    for (let i = 1; i < part.length; i++) if (part[i] * part[i - 1] < 0) changes++;
    return changes / 0.04;
  };
  const [kick, snare, hat] = [await brightness(36), await brightness(38), await brightness(42)];
  expect(kick).toBeLessThan(600);
  expect(snare).toBeGreaterThan(2 * kick);
  expect(hat).toBeGreaterThan(snare);
});

test('a hundred notes at once are heard without overload', async () => {
  const { samples } = await play(
    Array.from({ length: 100 }, (_, i) => note(0.1, 20 + (i % 90), { velocity: 127 })),
  );
  expect(loudest(samples)).toBeLessThanOrEqual(1);
  expect(samples.every(Number.isFinite)).toBe(true);
});
