import { randomFrom } from '@/demo/random';
import { correlation, findStemSets, onsetEnvelope, type StemCandidate } from './stemSets';

/** Hits on some eighths of four bars, thrown by a seed; stems of one piece share most of their places. */
function candidate(
  name: string,
  seconds: number,
  seed: number,
  change: Partial<StemCandidate> = {},
): StemCandidate {
  const random = randomFrom(seed);
  const onsets = Array.from({ length: 64 }, (_, i) => ({
    time: (i * seconds) / 64,
    strength: random() < 0.4 ? 9 : 0,
  }));
  return {
    id: name,
    name,
    folder: 'f',
    durationSeconds: seconds,
    tempoBpm: 120,
    envelope: onsetEnvelope(
      onsets.filter(({ strength }) => strength > 0),
      seconds,
    ),
    ...change,
  };
}
const found = (...candidates: StemCandidate[]) => findStemSets(candidates).map(({ ids }) => ids.sort());

test('parts of one piece of the same length are a set', () => {
  const stems = ['Moth Parade Drums.wav', 'Moth Parade Bass.wav', 'Moth Parade Lead 120.wav'];
  expect(found(...stems.map((name, i) => candidate(name, 31.2, i)))).toEqual([stems.slice().sort()]);
  expect(findStemSets(stems.map((name, i) => candidate(name, 31.2, i)))[0].name).toBe('Moth Parade');
});

test('a stem that does not name the piece is found by its part and length', () => {
  // They play together, but not the same.
  const playing = (name: string, every: number) => {
    const one = candidate(name, 31.23, 4);
    return { ...one, envelope: one.envelope.map((value, k) => value + (k % every === 0 ? 1 : 0)) };
  };
  const stems = [
    playing('Moth Parade Drums.wav', 3),
    playing('Chords_Abmin.wav', 5),
    playing('Moth Parade Bass.wav', 7),
  ];
  expect(found(...stems)[0]).toHaveLength(3);
});

test('loops of a pack that are as long by their tempo are none', () => {
  expect(
    found(
      candidate('Mullion Waltz drums 82 bpm.wav', 9.6, 1),
      candidate('Sparrow Waltz drums 164 bpm.wav', 9.6, 1),
      candidate('Amber Shuffle chords.wav', 9.6, 2),
      candidate('Bramble Reel bass.wav', 9.6, 3),
    ),
  ).toEqual([]);
});

test('other folders, other lengths, cuts and copies are none', () => {
  const a = candidate('Parade Drums.wav', 30, 1);
  expect(found(a, candidate('Parade Bass.wav', 30, 2, { folder: 'g' }))).toEqual([]);
  expect(found(a, candidate('Parade Bass.wav', 30.1, 2))).toEqual([]);
  expect(found(candidate('Hit one.wav', 1.2, 1), candidate('Hit two.wav', 1.2, 2))).toEqual([]);
  expect(found(a, candidate('Parade Drums copy.wav', 30, 1))).toEqual([]);
});

test('correlation is that of Pearson', () => {
  expect(correlation([1, 2, 3], [2, 4, 6])).toBeCloseTo(1);
  expect(correlation([1, 2, 3], [3, 2, 1])).toBeCloseTo(-1);
  expect(correlation([1, 1, 1], [3, 2, 1])).toBe(0);
});
