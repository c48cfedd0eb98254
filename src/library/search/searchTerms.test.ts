import { searchTerms } from './searchTerms';

const said = (text: string) => {
  const { terms, rest } = searchTerms(text);
  return [terms.map(({ words }) => words), rest];
};

test.each<[string, string[], string]>([
  ['slow minor 3/4 bass', ['slow, up to 85 BPM', 'minor', '3/4', 'part bass'], ''],
  ['90-95', ['tempo 90 to 95'], ''],
  ['90 – 95 bpm curtain', ['tempo 90 to 95'], 'curtain'],
  ['Dm lantern', ['key D minor'], 'lantern'],
  ['F♯ minor', ['key F♯ minor'], ''],
  ['Bbmaj', ['key B♭ major'], ''],
  ['swung loop 4 bars', ['feel swung', 'kind loop', '4 bars'], ''],
  ['96 bpm', ['tempo 96'], ''],
  ['unproved full mix', ['unproved', 'part full mix'], ''],
  ['moth', [], 'moth'],
  ['', [], ''],
])('“%s” is understood as %j, and “%s” is looked for', (text, terms, rest) => {
  expect(said(text)).toEqual([terms, rest]);
});

test.each([
  ['a word that only begins like a measure', 'bassoon minority 3/4th'],
  ['a letter alone', 'A D'],
  ['a small letter and m, as in a name', 'am'],
  ['a number without a unit', '164 take 3'],
  ['a range that falls, or is none of tempi', '95-90 500-700'],
  ['a meter that there is none of', '40/4 3/5'],
])('%s stays a word', (_, text) => {
  expect(said(text)).toEqual([[], text]);
});

test('what is quoted is a word', () => {
  expect(said('"slow bass" minor')).toEqual([['minor'], 'slow bass']);
});

test('a measure that is said twice is a word the second time; several tags may be said', () => {
  expect(said('minor major')).toEqual([['minor'], 'major']);
  expect(said('drums swung')).toEqual([['part drums', 'feel swung'], '']);
});

test('each says where it stands, so that it can be taken out', () => {
  const text = 'old Dm 90-95';
  expect(searchTerms(text).terms.map(({ from, to }) => text.slice(from, to))).toEqual(['Dm', '90-95']);
});

test('a tempo with decimals stands for itself', () => {
  const [{ meant }] = searchTerms('88.402 bpm').terms;
  expect(meant.tempoFrom).toBeCloseTo(88.401, 6);
  expect(meant.tempoTo).toBeCloseTo(88.403, 6);
});
