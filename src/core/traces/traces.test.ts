import { drums, monoOf } from '../../../tests/support/music';
import { createListener } from '../measurement/listening';
import { ANALYSIS_RATE } from '../rhythm/onsetFeatures';
import { coarser, peakPyramid } from '../signal/peaks';
import { resample } from '../signal/resample';
import { bandStrengthBuilder, strengthOf } from './bandStrength';
import { packTraces, tracesOf, unpackTraces } from './traces';

const stage = drums({ bpm: 120, bars: 4, one: 0.25 });
const mono = resample(monoOf(stage), 44100, ANALYSIS_RATE);
const strength = (() => {
  const builder = bandStrengthBuilder(ANALYSIS_RATE);
  for (let at = 0; at < mono.length; at += 1000) builder.push(mono.subarray(at, at + 1000));
  return builder.finish();
})();

/** Where a band is strongest within 60 ms of a time, seconds. */
function strongest(band: Uint8Array, around: number): { time: number; strength: number } {
  let best = 0;
  for (let i = Math.round((around - 0.06) * strength.rate); i < (around + 0.06) * strength.rate; i++)
    if (i >= 0 && band[i] > band[best]) best = i;
  return { time: best / strength.rate, strength: strengthOf(band[best]) };
}

test('each band rises where its instrument is struck, to a step', () => {
  const [low, middle, high] = strength.bands;
  const beat = 0.5;
  for (const bar of [1, 2, 3]) {
    const bigDrum = strongest(low, 0.25 + 4 * bar * beat);
    expect(Math.abs(bigDrum.time - (0.25 + 4 * bar * beat))).toBeLessThan(0.011);
    expect(bigDrum.strength).toBeGreaterThan(8);
    const sideDrum = strongest(middle, 0.25 + (4 * bar + 1) * beat);
    expect(Math.abs(sideDrum.time - (0.25 + (4 * bar + 1) * beat))).toBeLessThan(0.008);
    const cymbal = strongest(high, 0.25 + (4 * bar + 1.5) * beat);
    expect(Math.abs(cymbal.time - (0.25 + (4 * bar + 1.5) * beat))).toBeLessThan(0.008);
    expect(cymbal.strength).toBeGreaterThan(4);
  }
});

test('a lasting tone and silence have no hits', () => {
  const builder = bandStrengthBuilder(ANALYSIS_RATE);
  builder.push(Float32Array.from({ length: ANALYSIS_RATE * 2 }, (_, i) => 0.3 * Math.sin(i * 0.0143)));
  const { bands } = builder.finish();
  const late = bands[0].subarray(200);
  expect(Math.max(...late.map(strengthOf))).toBeLessThan(4);
  const quiet = bandStrengthBuilder(ANALYSIS_RATE);
  quiet.push(new Float32Array(4000));
  expect(quiet.finish().bands.every((band) => band.every((value) => value === 0))).toBe(true);
});

test('packed traces come back, with the waveform to a hundredth of its height', () => {
  const listener = createListener();
  listener.push(mono);
  const peaks = peakPyramid([stage.left, stage.right], 44100);
  const duration = stage.left.length / 44100;
  const before = tracesOf(duration, peaks, strength, listener.finish().chroma);
  const bytes = packTraces(before);
  expect(bytes.length / duration).toBeLessThan(1200);
  const after = unpackTraces(bytes);
  expect(after.durationSeconds).toBe(duration);
  expect(after.strength).toEqual(strength);
  expect(after.chords).toEqual(before.chords);
  const expected = coarser(peaks.levels[0], 2).max;
  expect(after.peaks.levels[0].max).toHaveLength(expected.length);
  expected.forEach((value, i) => expect(Math.abs(value - after.peaks.levels[0].max[i])).toBeLessThan(0.005));
  expect(() => unpackTraces(bytes.subarray(0, 90))).toThrow(RangeError);
  expect(() => unpackTraces(bytes.subarray(0, bytes.length - 1))).toThrow(RangeError);
});
