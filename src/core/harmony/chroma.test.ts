import { pluck, reeds } from '@/demo/instruments';
import { makeStage, type Stage } from '@/demo/stage';
import { monoOf } from '../../../tests/support/music';
import { resample } from '../signal/resample';
import { chromaFrames, totalChroma } from './chroma';
import { HARMONY_RATE, pitchPeakBuilder } from './pitchSpectrum';

function chromaOf(stage: Stage, tuningCents = 0) {
  const builder = pitchPeakBuilder();
  builder.push(resample(monoOf(stage), stage.sampleRate, HARMONY_RATE));
  return chromaFrames(builder.finish(), tuningCents);
}

const loudest = (sums: Float64Array, count: number) =>
  Array.from(sums.keys())
    .sort((a, b) => sums[b] - sums[a])
    .slice(0, count)
    .sort((a, b) => a - b);

test('of a chord its three notes are the loudest, and it sums to one', () => {
  const stage = makeStage(3);
  for (const midi of [62, 65, 69]) reeds(stage, 0.1, midi, 2.8);
  const sums = totalChroma(chromaOf(stage).all);
  expect(loudest(sums, 3)).toEqual([2, 5, 9]);
  expect(sums.reduce((a, b) => a + b)).toBeCloseTo(1, 9);
});

test('what sounds when stays apart, and the bass is only what is deep', () => {
  const stage = makeStage(4.2);
  pluck(stage, 0.1, 40, 1.9);
  reeds(stage, 2.1, 67, 1.9);
  const { all, bass } = chromaOf(stage);
  expect(loudest(totalChroma(all, 0.4, 1.8), 1)).toEqual([4]);
  expect(loudest(totalChroma(all, 2.4, 3.8), 1)).toEqual([7]);
  expect(loudest(totalChroma(bass), 1)).toEqual([4]);
  const deepLater = bass.values.slice(Math.round(2.8 * bass.frameRate) * 12);
  expect(Math.max(...deepLater)).toBeLessThan(0.1 * Math.max(...bass.values));
});

test('a quarter tone off, the notes are only told apart at the right tuning', () => {
  const stage = makeStage(3);
  for (const midi of [60, 64, 67]) reeds(stage, 0.1, midi, 2.8, 1, 0, 440 * 2 ** (40 / 1200));
  const share = (sums: Float64Array) => sums[0] + sums[4] + sums[7];
  const right = share(totalChroma(chromaOf(stage, 40).all));
  expect(right).toBeGreaterThan(share(totalChroma(chromaOf(stage, -10).all)));
  expect(loudest(totalChroma(chromaOf(stage, 40).all), 3)).toEqual([0, 4, 7]);
});

test('silence has no chroma', () => {
  expect(Array.from(totalChroma(chromaOf(makeStage(2)).all))).toEqual(new Array(12).fill(0));
});
