import { chords, drums, monoOf } from '../../../tests/support/music';
import { addSound, makeStage } from '@/demo/stage';
import { resample } from '../signal/resample';
import { HARMONY_RATE, pitchPeakBuilder, tonalShare, type PitchPeaks } from './pitchSpectrum';

function peaksOf(mono: Float32Array): PitchPeaks {
  const builder = pitchPeakBuilder();
  const half = resample(mono, 44100, HARMONY_RATE);
  // In blocks of an awkward size, as decoders hand them over.
  for (let at = 0; at < half.length; at += 3001) builder.push(half.subarray(at, at + 3001));
  return builder.finish();
}

test('tones alone stand in peaks that last, drums do not', () => {
  expect(tonalShare(peaksOf(monoOf(chords(48, 'major'))))).toBeGreaterThan(0.6);
  expect(tonalShare(peaksOf(monoOf(drums({ bpm: 110, bars: 4 }))))).toBeLessThan(0.35);
});

test('a tone has its peak at its pitch, to two cents; silence has none', () => {
  const stage = makeStage(3, 44100, 1);
  const hz = 440 * 2 ** ((57.23 - 69) / 12);
  addSound(stage, 0, 3, 0.5, 0, (t) => Math.sin(2 * Math.PI * hz * t));
  const { midi, starts, frames, energy } = peaksOf(monoOf(stage));
  const middle = frames >> 1;
  const there = Array.from(midi.subarray(starts[middle], starts[middle + 1]));
  expect(there).toHaveLength(1);
  expect(Math.abs(there[0] - 57.23)).toBeLessThan(0.02);
  expect(energy[middle]).toBeGreaterThan(0);
  const silent = peaksOf(new Float32Array(44100));
  expect(silent.midi).toHaveLength(0);
  expect(tonalShare(silent)).toBe(0);
});
