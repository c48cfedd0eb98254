import { chordOf, tonalFocus } from './chord';

const chroma = (shares: Record<number, number>) => {
  const rest =
    (1 - Object.values(shares).reduce((sum, one) => sum + one, 0)) / (12 - Object.keys(shares).length);
  return Array.from({ length: 12 }, (_, note) => shares[note] ?? rest);
};

test.each([
  [
    { 0: 0.25, 4: 0.2, 7: 0.22 },
    { root: 0, mode: 'major' },
  ],
  [
    { 9: 0.24, 0: 0.19, 4: 0.2 },
    { root: 9, mode: 'minor' },
  ],
  [
    { 11: 0.2, 2: 0.22, 6: 0.18 },
    { root: 11, mode: 'minor' },
  ],
])('a triad is told by its three notes: %j', (shares, told) => {
  expect(chordOf(chroma(shares))).toEqual(told);
});

test('a single note with its harmonics is no chord, nor is noise', () => {
  expect(chordOf(chroma({ 0: 0.5, 7: 0.2, 4: 0.1 }))).toBeNull();
  expect(chordOf(chroma({}))).toBeNull();
});

test('noise is spread over all notes, a note is not', () => {
  expect(tonalFocus(chroma({}))).toBeCloseTo(0.25);
  expect(tonalFocus(chroma({ 0: 0.5, 7: 0.2, 4: 0.1 }))).toBeCloseTo(0.8);
});
