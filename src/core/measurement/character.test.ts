import { bigDrum, cymbal, pluck, reeds } from '@/demo/instruments';
import { makeStage, type Stage } from '@/demo/stage';
import { monoOf } from '../../../tests/support/music';
import { ANALYSIS_RATE } from '../rhythm/onsetFeatures';
import { resample } from '../signal/resample';
import { activeStretch } from './activeStretch';
import { measureCharacter } from './character';
import { createListener } from './listening';

function characterOf(stage: Stage) {
  const listener = createListener();
  listener.push(resample(monoOf(stage), stage.sampleRate, ANALYSIS_RATE));
  const { features, onsets, envelope } = listener.finish();
  return measureCharacter(features, onsets, activeStretch(features)!, envelope);
}

function hits(every: number, play: (stage: Stage, at: number) => void) {
  const stage = makeStage(8);
  for (let at = 0.1; at < 7.5; at += every) play(stage, at);
  return characterOf(stage);
}

test('how much moves is counted over what sounds, not over the silence around it', () => {
  const busy = hits(0.25, (stage, at) => cymbal(stage, at));
  expect(busy.onsetsPerSecond).toBeGreaterThan(3.6);
  expect(busy.onsetsPerSecond).toBeLessThan(4.4);
  const late = makeStage(12);
  for (let at = 6; at < 10; at += 0.25) cymbal(late, at);
  expect(characterOf(late).onsetsPerSecond).toBeGreaterThan(3.4);
});

test('what is struck has no attack to speak of, bellows come up slowly', () => {
  expect(hits(0.5, (stage, at) => bigDrum(stage, at)).attackMs).toBeLessThan(3);
  expect(hits(0.5, (stage, at) => pluck(stage, at, 57, 0.4)).attackMs).toBeLessThan(3);
  expect(hits(1, (stage, at) => reeds(stage, at, 57, 0.7)).attackMs).toBeGreaterThan(3);
});

test('a cymbal is brighter and noisier than a drum, a plucked string smoother than both', () => {
  const cymbals = hits(0.5, (stage, at) => cymbal(stage, at));
  const drums = hits(0.5, (stage, at) => bigDrum(stage, at));
  const strings = hits(0.5, (stage, at) => pluck(stage, at, 57, 0.4));
  expect(cymbals.centroidHz).toBeGreaterThan(4 * drums.centroidHz);
  expect(cymbals.flatness).toBeGreaterThan(drums.flatness);
  expect(cymbals.flatness).toBeGreaterThan(strings.flatness);
});

test('the decay is the time of a fall by 20 dB', () => {
  // Amplitude exp(−t / 0.11): 20 dB are 0.11 · ln 10 seconds.
  const drums = hits(0.9, (stage, at) => bigDrum(stage, at));
  expect(drums.decaySeconds!).toBeGreaterThan(0.15);
  expect(drums.decaySeconds!).toBeLessThan(0.35);
  expect(hits(0.5, (stage, at) => cymbal(stage, at)).decaySeconds!).toBeLessThan(drums.decaySeconds!);
});
