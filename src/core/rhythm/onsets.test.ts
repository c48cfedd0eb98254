import { bigDrum, cymbal, reeds } from '@/demo/instruments';
import { makeStage, type Stage } from '@/demo/stage';
import { monoOf } from '../../../tests/support/music';
import { createListener } from '../measurement/listening';
import { resample } from '../signal/resample';
import { ANALYSIS_RATE } from './onsetFeatures';

function hear(stage: Stage) {
  const listener = createListener();
  listener.push(resample(monoOf(stage), stage.sampleRate, ANALYSIS_RATE));
  return listener.finish();
}

test('every hit is found once, at its first sample, and the strong stand out more', () => {
  const stage = makeStage(5);
  const hits = [0.21, 0.73, 1.02, 1.9, 2.4, 2.55, 3.31, 4.2];
  hits.forEach((time, i) => bigDrum(stage, time, i % 2 ? 0.25 : 1));
  const { onsets } = hear(stage);
  expect(onsets).toHaveLength(hits.length);
  onsets.forEach(({ time }, i) => expect(Math.abs(time - hits[i])).toBeLessThan(0.003));
  expect(onsets[2].strength).toBeGreaterThan(onsets[3].strength);
});

test('two sounds at once are one hit; two that are 60 ms apart are two', () => {
  const stage = makeStage(3);
  for (const time of [0.5, 1.25, 2]) {
    bigDrum(stage, time);
    cymbal(stage, time);
  }
  expect(hear(stage).onsets).toHaveLength(3);
  const flam = makeStage(3);
  for (const time of [0.5, 0.56, 1.5, 1.56]) cymbal(flam, time);
  expect(hear(flam).onsets).toHaveLength(4);
});

test('a tone that is held has one hit, where it begins', () => {
  const stage = makeStage(4);
  reeds(stage, 0.6, 57, 3);
  const [first, ...others] = hear(stage).onsets;
  expect(Math.abs(first.time - 0.6)).toBeLessThan(0.03);
  // That it is let go is hardly heard beside that.
  for (const { strength } of others) expect(strength).toBeLessThan(0.1 * first.strength);
});
