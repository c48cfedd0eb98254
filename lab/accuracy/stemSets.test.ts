import { randomFrom } from '@/demo/random';
import { scoreStemSets, type Listened } from './stemSets';

/** Hits that are thrown by a seed. */
function listened(seed: number, seconds: number): Listened {
  const random = randomFrom(seed);
  const onsets = Array.from({ length: 64 }, (_, i) => ({
    time: (i * seconds) / 64,
    strength: random() < 0.4 ? 9 : 0,
  })).filter(({ strength }) => strength > 0);
  return { durationSeconds: seconds, tempoBpm: 120, onsets };
}

const item = (id: string, namedFile: string, stemSet: string | null = null) => ({ id, namedFile, stemSet });
const ITEMS = [
  item('a', 'Toll Gate - Drums.wav', 'gate'),
  item('b', 'Toll Gate - Bass.wav', 'gate'),
  item('c', 'Toll Gate - Chords.wav', 'gate'),
  item('d', 'Sawdust Reel.wav'),
  item('e', 'Pepper March.wav'),
];
const all = new Map([
  ...['a', 'b', 'c'].map((id, i): [string, Listened] => [id, listened(i, 31.2)]),
  ['d', listened(4, 9.402)],
  ['e', listened(5, 21.118)],
]);

test('a set that is found with exactly its members counts', () => {
  expect(scoreStemSets(ITEMS, all)).toEqual({ sets: 1, found: 1, partly: [], invented: [] });
});

test('a set of which a member is no part of it is found in part, by name', () => {
  const items = ITEMS.map((one) => (one.id === 'c' ? { ...one, stemSet: null } : one));
  expect(scoreStemSets(items, all)).toEqual({
    sets: 1,
    found: 0,
    partly: ['Toll Gate - Drums.wav, Toll Gate - Bass.wav, Toll Gate - Chords.wav'],
    invented: [],
  });
});

test('a set that nobody made is invented', () => {
  const items = ITEMS.map((one) => ({ ...one, stemSet: null }));
  const { sets, found, invented } = scoreStemSets(items, all);
  expect([sets, found]).toEqual([0, 0]);
  expect(invented).toHaveLength(1);
});

test('what was not measured is looked for nowhere', () => {
  const some = new Map([...all].filter(([id]) => id === 'd'));
  expect(scoreStemSets(ITEMS, some)).toEqual({ sets: 0, found: 0, partly: [], invented: [] });
});
