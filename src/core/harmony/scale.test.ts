import { keyReasons, reasonWords } from './keyReasons';
import { keyNeighbours, noteHz, noteName, scaleNotes, scaleTriads } from './scale';

const EB = { tonic: 3, mode: 'major' } as const;
const A_MINOR = { tonic: 9, mode: 'minor' } as const;

test('notes are spelled as their key has them', () => {
  expect(scaleNotes(EB).map((note) => noteName(note, EB))).toEqual(['E♭', 'F', 'G', 'A♭', 'B♭', 'C', 'D']);
  const e = { tonic: 4, mode: 'minor' } as const;
  expect(scaleNotes(e).map((note) => noteName(note, e))).toEqual(['E', 'F♯', 'G', 'A', 'B', 'C', 'D']);
});

test.each([
  [{ tonic: 3, mode: 'minor' }, ['E♭', 'F', 'G♭', 'A♭', 'B♭', 'C♭', 'D♭']],
  [{ tonic: 8, mode: 'minor' }, ['G♯', 'A♯', 'B', 'C♯', 'D♯', 'E', 'F♯']],
  [{ tonic: 6, mode: 'major' }, ['F♯', 'G♯', 'A♯', 'B', 'C♯', 'D♯', 'E♯']],
  [{ tonic: 1, mode: 'major' }, ['D♭', 'E♭', 'F', 'G♭', 'A♭', 'B♭', 'C']],
] as const)('the scale of %j has each letter once', (key, names) => {
  expect(scaleNotes(key).map((note) => noteName(note, key))).toEqual(names);
});

test('foreign notes are spelled by their key: raised leading notes in minor, lowered sixths in major', () => {
  const D_MINOR = { tonic: 2, mode: 'minor' } as const;
  const G_MINOR = { tonic: 7, mode: 'minor' } as const;
  expect(noteName(1, D_MINOR)).toBe('C♯');
  expect(noteName(6, G_MINOR)).toBe('F♯');
  expect(noteName(11, { tonic: 0, mode: 'minor' })).toBe('B');
  expect(noteName(8, A_MINOR)).toBe('G♯');
  expect(noteName(8, { tonic: 0, mode: 'major' })).toBe('A♭');
  // Double accidentals are not read by everybody.
  expect(noteName(7, { tonic: 8, mode: 'minor' })).toBe('G');
});

test('minor has its dominant with the leading note', () => {
  expect(scaleTriads(A_MINOR).map(({ numeral }) => numeral)).toEqual([
    'i',
    'ii°',
    'III',
    'iv',
    'V',
    'VI',
    'VII',
  ]);
  expect(scaleTriads(A_MINOR)[4].notes).toEqual([7, 11, 14]);
  expect(scaleTriads(EB).map(({ numeral }) => numeral)).toEqual(['I', 'ii', 'iii', 'IV', 'V', 'vi', 'vii°']);
});

test('the neighbours of a key', () => {
  expect(keyNeighbours(A_MINOR).map(({ tonic, mode }) => `${tonic} ${mode}`)).toEqual([
    '0 major',
    '9 major',
    '4 minor',
    '2 minor',
  ]);
});

test('notes sound at the tuning of the sample', () => {
  expect(noteHz(69, 0)).toBe(440);
  expect(noteHz(69, 50) / noteHz(69, -50)).toBeCloseTo(2 ** (1 / 12), 9);
});

test('reasons tell a minor key from its parallel', () => {
  const all = new Float64Array(12).fill(0.2);
  for (const pitchClass of [9, 0, 4]) all[pitchClass] = 3;
  const bass = new Float64Array(12);
  bass[9] = 3;
  bass[4] = 1;
  const minor = keyReasons(all, bass, A_MINOR);
  expect(minor.bassOnTonic).toBeCloseTo(0.75);
  expect(minor.thirdRatio).toBeGreaterThan(5);
  expect(minor.inScale).toBeGreaterThan(0.9);
  expect(reasonWords(minor, A_MINOR)).toContain('minor third 9.9 × the other');
  const major = keyReasons(all, bass, { tonic: 9, mode: 'major' });
  expect(reasonWords(major, { tonic: 9, mode: 'major' })).toContain('the major third is the weaker one');
  expect(major.loudestOutside.pitchClass).toBe(0);
});
