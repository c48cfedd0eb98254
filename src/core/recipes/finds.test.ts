import { measureStream } from '../measurement/measureStream';
import { encodeWave } from '../formats/encodeWave';
import { chords, drums, monoOf } from '../../../tests/support/music';
import { findsIn } from './finds';

const RATE = 44_100;

/** A beat of 120 BPM: bars A A A A B C D E, each letter a figure of its own; then one free hit after silence. */
function piece(): Float32Array {
  const samples = new Float32Array(RATE * 24);
  const strike = (seconds: number, hz: number, decay = 0.05) => {
    const at = Math.round(seconds * RATE);
    for (let n = 0; n < RATE / 2 && at + n < samples.length; n++)
      samples[at + n] += 0.4 * Math.exp(-n / (decay * RATE)) * Math.sin((2 * Math.PI * hz * n) / RATE);
  };
  const figures = [
    'x.x.x.x.',
    'x.x.x.x.',
    'x.x.x.x.',
    'x.x.x.x.',
    'xx..x..x',
    'x..xx.x.',
    'xxx.x...',
    'x...xxxx',
  ];
  figures.forEach((figure, bar) =>
    [...figure].forEach(
      (one, place) =>
        one === 'x' && strike(bar * 2 + place * 0.25, 110 * (1 + (bar < 4 ? place % 4 : place + bar))),
    ),
  );
  strike(20, 440, 0.08);
  return samples;
}

async function found(samples: readonly Float32Array[]) {
  const bytes = encodeWave(samples, RATE);
  async function* once() {
    yield bytes;
  }
  const { traces, measurement } = await measureStream(() => once(), { traced: true });
  const audio = { channels: samples, sampleRate: RATE, durationSeconds: samples[0].length / RATE };
  const grid = { tempoBpm: 120, one: 0, meter: { beatsPerBar: 4, beatUnit: 4 }, movingBeats: null };
  return { finds: findsIn(audio, traces!, measurement.onsets, grid), measurement };
}

test('what loops is what the same follows again: bars of the figure that repeats, and no others', async () => {
  const { finds } = await found([piece()]);
  expect(finds.stretches.length).toBeGreaterThan(0);
  for (const { bar, bars, likeness } of finds.stretches.filter((one) => one.likeness !== null)) {
    expect(bar + bars).toBeLessThanOrEqual(4);
    expect(likeness).toBeGreaterThan(0.7);
  }
  // The same music is told once in each length.
  const one = finds.stretches.filter(({ bars, likeness }) => bars === 1 && likeness !== null);
  // Before the first bar there is nothing that its first hit could rise over: it may be told beside the others.
  expect(one.length).toBeLessThanOrEqual(2);
});

test('a hit after silence that nothing covers stands free', async () => {
  const { finds } = await found([piece()]);
  const free = finds.hits.find(({ at }) => Math.abs(at - 20) < 0.003);
  expect(free).toBeDefined();
  expect(free!.fallsDb).toBeGreaterThan(20);
});

test('without a grid there are no stretches, in silence nothing at all', async () => {
  const silent = [new Float32Array(RATE * 4)];
  const { finds } = await found(silent);
  expect(finds).toEqual({ stretches: [], hits: [] });
});

test('drums only are told from what has a pitch, and quiet bars from the others', async () => {
  const bars = { bpm: 120, bars: 4, seed: 11 };
  const struck = monoOf(drums(bars));
  // One chord, again in every bar.
  const held = monoOf(chords(57, 'minor')).subarray(0, RATE * 2);
  // Four bars of drums, four with the chord over them, four of drums at a third.
  const samples = new Float32Array(RATE * 24);
  for (let n = 0; n < RATE * 8; n++) {
    samples[n] = 0.5 * struck[n];
    samples[n + RATE * 8] = 0.5 * struck[n] + 0.5 * held[n % held.length];
    samples[n + RATE * 16] = 0.16 * struck[n];
  }
  const { finds } = await found([samples]);
  const inside = (from: number, to: number) =>
    finds.stretches.filter((one) => one.bar >= from && one.bar + one.bars <= to + 1);
  expect(inside(1, 4).length).toBeGreaterThan(0);
  expect(new Set(inside(1, 4).map(({ sound }) => sound))).toEqual(new Set(['drums']));
  expect(inside(5, 8).length).toBeGreaterThan(0);
  expect(new Set(inside(5, 8).map(({ sound }) => sound))).toEqual(new Set(['pitched']));
  for (const { levelDb } of inside(9, 12)) expect(levelDb).toBeLessThan(-5);
});
