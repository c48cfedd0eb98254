import { ANALYSIS_RATE } from '@/core/rhythm/onsetFeatures';
import { hearSamples } from '../training/excerpts';
import { baseline } from './baseline';
import { predictionOf } from './predictions';
import { measureAudio } from '@/core/measurement/measure';

/** Tones of a chord, struck every `every` seconds. */
function struck(frequencies: readonly number[], every: number, seconds: number): Float32Array {
  const samples = new Float32Array(seconds * ANALYSIS_RATE);
  for (let hit = 0; hit * every < seconds; hit++) {
    const from = Math.round(hit * every * ANALYSIS_RATE);
    for (let i = from; i < samples.length; i++) {
      const t = (i - from) / ANALYSIS_RATE;
      if (t > 0.4) break;
      for (const frequency of frequencies)
        samples[i] += 0.2 * Math.exp(-t / 0.15) * Math.sin(2 * Math.PI * frequency * t);
    }
  }
  return samples;
}
const C_MAJOR = [261.63, 329.63, 392];

test('the baseline finds an even beat, four of them a bar, and the key of a chord', async () => {
  const found = baseline('x', await hearSamples(struck(C_MAJOR, 0.5, 12)));
  expect(found.bpm!).toBeCloseTo(120, -1);
  expect(found.key).toEqual({ tonic: 'C', mode: 'major' });
  expect(found.downbeats[1]).toBeCloseTo(found.beats[4], 6);
});

test('what is short is a one-shot to it, silence nothing', async () => {
  const short = baseline('x', await hearSamples(struck(C_MAJOR, 0.5, 1.5)));
  expect([short.kind, short.bpm]).toEqual(['oneshot', null]);
  const silent = baseline('x', await hearSamples(new Float32Array(4 * ANALYSIS_RATE)));
  expect([silent.kind, silent.bpm, silent.key]).toEqual(['oneshot', null, null]);
});

test('a prediction says of a measurement what scorers read, and null for what there is not', async () => {
  const measured = measureAudio(struck(C_MAJOR, 0.5, 16));
  const prediction = predictionOf('x', measured);
  expect(prediction.bpm).toBe(measured.tempo!.bpm);
  expect(prediction.loopEnd).toBe(measured.loop!.end);
  expect(prediction.beatsPerBar).toBe(measured.meter!.beatsPerBar);
  const nothing = predictionOf('y', measureAudio(new Float32Array(ANALYSIS_RATE)));
  expect(nothing).toMatchObject({
    id: 'y',
    bpm: null,
    key: null,
    loopStart: null,
    beats: [],
    rootNote: null,
  });
});
