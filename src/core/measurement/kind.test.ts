import { bigDrum, cymbal, reeds, sideDrum } from '@/demo/instruments';
import { makeStage, type Stage } from '@/demo/stage';
import { chords, drums, monoOf } from '../../../tests/support/music';
import { ANALYSIS_RATE } from '../rhythm/onsetFeatures';
import { resample } from '../signal/resample';
import { evenness } from './kind';
import { measureAudio } from './measure';

const kindOf = (stage: Stage) => measureAudio(resample(monoOf(stage), stage.sampleRate, ANALYSIS_RATE));

function staged(seconds: number, play: (stage: Stage) => void): Stage {
  const stage = makeStage(seconds);
  play(stage);
  return stage;
}

test.each<[string, Stage]>([
  ['a big drum', staged(0.8, (stage) => bigDrum(stage, 0.01))],
  ['a side drum with air before it', staged(1, (stage) => sideDrum(stage, 0.2))],
  ['an open cymbal', staged(2, (stage) => cymbal(stage, 0, 1, true))],
  ['a short note', staged(1, (stage) => reeds(stage, 0, 62, 0.6))],
  ['a chord', staged(1.6, (stage) => [50, 54, 57].forEach((note) => reeds(stage, 0, note, 1.2)))],
])('%s is a one-shot and has no tempo', (_, stage) => {
  expect(kindOf(stage)).toMatchObject({ kind: 'oneshot', tempo: null, loop: null });
});

test.each<[string, Stage]>([
  ['two bars of drums', drums({ bpm: 96, bars: 2 })],
  ['eight bars of drums', drums({ bpm: 140, bars: 8 })],
  ['a waltz', drums({ bpm: 120, bars: 4, beatsPerBar: 3 })],
])('%s are a loop', (_, stage) => {
  const { kind, kindSureness, tempo } = kindOf(stage);
  expect(kind).toBe('loop');
  expect(kindSureness).toBeGreaterThan(0.7);
  expect(tempo).not.toBeNull();
});

/** Everything pressed to one level, over a hum of its own: hits are heard, but the level hardly rises. */
function pressed(stage: Stage): Stage {
  const press = (channel: Float32Array) =>
    channel.forEach((value, i) => (channel[i] = Math.tanh(12 * value + 1.5 * Math.sin(i / 60)) * 0.9));
  press(stage.left);
  press(stage.right);
  return stage;
}

test.each([1, 2])('drums that are pressed to one level are a loop, %i bars', (bars) => {
  const { kind, tempo } = kindOf(pressed(drums({ bpm: 126, bars })));
  expect(kind).toBe('loop');
  expect(tempo!.bpm).toBeCloseTo(126, 1);
});

test('chords over sixteen seconds are no one-shot', () => {
  expect(kindOf(chords(60, 'major')).kind).not.toBe('oneshot');
});

test('three quarters of a minute of drums are a song', () => {
  expect(kindOf(drums({ bpm: 120, bars: 24 }))).toMatchObject({ kind: 'song', loop: null });
});

describe('how evenly hits follow each other', () => {
  const at = (...times: number[]) => evenness(times);
  test('tells bars from a hand that drops things', () => {
    expect(at(0.02, 0.52, 1.02, 1.52)).toBeCloseTo(Math.log1p(2), 6);
    expect(at(0.02, 0.52, 1.52, 1.77)).toBeCloseTo(Math.log1p(2), 6);
    expect(at(0, 0.2, 0.49, 0.81)).toBeLessThan(0.3);
  });
  test('more hits say more', () => {
    expect(at(0, 0.5, 1, 1.5, 2, 2.5)).toBeGreaterThan(at(0, 0.5, 1));
  });
  test('one or two hits say nothing, nor do those that are heard twice', () => {
    expect(at()).toBe(0);
    expect(at(0, 0.5)).toBe(0);
    expect(at(0, 0.02, 0.5, 0.52)).toBe(0);
  });
});
