import { randomFrom } from '@/demo/random';
import { chromaFrames } from './chroma';
import { estimateKey, hearKeys, KEYS, observeKey, observeTonality, TONAL } from './key';
import { ALL_KEYS } from './keyNames';
import type { PitchPeaks } from './pitchSpectrum';

const FRAME_RATE = 10.77;

/** Peaks of chords (MIDI notes) that sound `framesEach` frames one after the other, with five partials. */
function peaksOf(chords: number[][], framesEach = 12, tonalness = 0.8): PitchPeaks {
  const midi: number[] = [];
  const weight: number[] = [];
  const starts = [0];
  for (const notes of chords)
    for (let f = 0; f < framesEach; f++) {
      for (const note of notes)
        for (let h = 1; h <= 5; h++) {
          midi.push(note + 12 * Math.log2(h));
          weight.push(1 / h);
        }
      starts.push(midi.length);
    }
  const frames = starts.length - 1;
  return {
    frameRate: FRAME_RATE,
    frames,
    starts: Uint32Array.from(starts),
    midi: Float32Array.from(midi),
    weight: Float32Array.from(weight),
    tonalness: new Float32Array(frames).fill(tonalness),
    energy: new Float32Array(frames).fill(1),
    low: { midi: new Float32Array(0), weight: new Float32Array(0), tonal: 0, energy: 0 },
  };
}

const triad = (root: number, third: number) => [root - 12, root, root + third, root + 7];
/** I IV V I, or i iv V i. */
const cadence = (tonic: number, mode: 'major' | 'minor') => {
  const third = mode === 'major' ? 4 : 3;
  return [triad(tonic, third), triad(tonic + 5, third), triad(tonic + 7, 4), triad(tonic, third)];
};

test.each(ALL_KEYS)('a cadence in tonic $tonic $mode is in that key', ({ tonic, mode }) => {
  const peaks = peaksOf(cadence(55 + ((tonic + 5) % 12), mode));
  const { ranked } = estimateKey(chromaFrames(peaks, 0), peaks);
  expect(ranked[0]).toMatchObject({ tonic, mode });
});

test('transposing turns what is observed with the key', () => {
  const at = (shift: number) => {
    const peaks = peaksOf(cadence(81 + shift, 'minor'));
    return hearKeys(chromaFrames(peaks, 0), peaks);
  };
  const home = observeKey(at(0), { tonic: 9, mode: 'minor' });
  const moved = observeKey(at(3), { tonic: 0, mode: 'minor' });
  for (let i = 0; i < KEYS.names.length; i++)
    // The bass register has an upper edge, which transposing may cross.
    if (!KEYS.names[i].includes('.bass.')) expect(moved[i]).toBeCloseTo(home[i], 3);
});

test('surenesses of the ranked keys fall and are shares', () => {
  const peaks = peaksOf(cadence(60, 'major'));
  const { ranked } = estimateKey(chromaFrames(peaks, 0), peaks);
  const surenesses = ranked.map(({ sureness }) => sureness);
  expect(surenesses).toEqual([...surenesses].sort((a, b) => b - a));
  expect(surenesses.reduce((a, b) => a + b, 0)).toBeLessThanOrEqual(1 + 1e-9);
});

test('what somebody says tips the scales between keys that are near', () => {
  // One bare fifth leaves the mode open.
  const peaks = peaksOf([[48, 55, 60, 67]], 60);
  const chroma = chromaFrames(peaks, 0);
  const belief = (mode: 'major' | 'minor') =>
    estimateKey(chroma, peaks, { tonic: 0, mode, sureness: 1 }).ranked.find(
      (entry) => entry.tonic === 0 && entry.mode === mode,
    )?.sureness ?? 0;
  const plain = (mode: 'major' | 'minor') =>
    estimateKey(chroma, peaks).ranked.find((entry) => entry.tonic === 0 && entry.mode === mode)?.sureness ??
    0;
  expect(belief('minor')).toBeGreaterThan(plain('minor'));
  expect(belief('major')).toBeGreaterThan(plain('major'));
});

test('peaks at random places that do not last have no key', () => {
  const random = randomFrom(4);
  const peaks = peaksOf(
    Array.from({ length: 60 }, () => Array.from({ length: 5 }, () => 36 + 48 * random())),
    1,
    0.05,
  );
  const chroma = chromaFrames(peaks, 0);
  expect(estimateKey(chroma, peaks).ranked).toEqual([]);
  expect(TONAL.belief(observeTonality(hearKeys(chroma, peaks)))).toBeLessThan(0.5);
});

test('no peaks at all have no key', () => {
  const peaks = peaksOf([]);
  expect(estimateKey(chromaFrames(peaks, 0), peaks).ranked).toEqual([]);
});
