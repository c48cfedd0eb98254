import { estimateTuning } from './tuning';
import type { PitchPeaks } from './pitchSpectrum';

function peaksAt(midi: number[]): PitchPeaks {
  return {
    frameRate: 10,
    frames: 1,
    starts: Uint32Array.from([0, midi.length]),
    midi: Float32Array.from(midi),
    weight: new Float32Array(midi.length).fill(1),
    tonalness: Float32Array.from([1]),
    energy: Float32Array.from([1]),
    low: { midi: new Float32Array(0), weight: new Float32Array(0), tonal: 0, energy: 0 },
  };
}

test.each([-49, -31.5, -8, 0, 12.3, 27, 48])('notes %d cents off are told to two cents', (cents) => {
  const found = estimateTuning(peaksAt([48, 52, 55, 59, 60, 64, 67, 71].map((note) => note + cents / 100)));
  expect(Math.abs(found - cents)).toBeLessThan(2);
});

test('half of a semitone is one of both ends', () => {
  expect(Math.abs(Math.abs(estimateTuning(peaksAt([60.5, 64.5, 67.5]))) - 50)).toBeLessThan(2);
});

test('stray peaks do not draw it', () => {
  const notes = [50, 53, 57, 62, 65, 69, 60, 64].flatMap((note) => [note + 0.21, note + 0.21, note + 0.2]);
  expect(Math.abs(estimateTuning(peaksAt([...notes, 51.47, 63.9, 70.66])) - 21)).toBeLessThan(2);
});

test('nothing is in tune', () => {
  expect(estimateTuning(peaksAt([]))).toBe(0);
});
