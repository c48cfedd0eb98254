import { searchTerms, tempoAsWritten, withoutTerms } from './searchTerms';

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
  ['dm', ['key D minor'], ''],
  ['c#m', ['key C♯ minor'], ''],
  ['d minor', ['key D minor'], ''],
  ['F sharp minor', ['key F♯ minor'], ''],
  ['e-flat MAJOR', ['key E♭ major'], ''],
  ['A Minor moth', ['key A minor'], 'moth'],
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
  ['a letter solo', 'A D'],
  ['a number without a unit', '164 take 3'],
  ['a range that falls, or is none of tempi', '95-90 500-700'],
  ['a time signature that there is none of', '40/4 3/5'],
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

test('each says where it stands, so that it can be removed', () => {
  const text = 'old Dm 90-95';
  expect(searchTerms(text).terms.map(({ from, to }) => text.slice(from, to))).toEqual(['Dm', '90-95']);
});

test('a tempo stands for all that are written as it, to its own decimals', () => {
  const [{ meant }] = searchTerms('88.402 bpm').terms;
  expect(meant.tempoFrom).toBeCloseTo(88.4015, 6);
  expect(meant.tempoTo).toBeCloseTo(88.4025, 6);
});

test('a number without a unit may be a tempo, as exactly as it is written', () => {
  expect(tempoAsWritten('94')).toEqual({ from: 93.5, to: 94.5 });
  expect(tempoAsWritten('88.4')!.from).toBeCloseTo(88.35, 9);
  expect(tempoAsWritten('7')).toBeNull();
  expect(tempoAsWritten('909')).toBeNull();
  expect(tempoAsWritten('94a')).toBeNull();
});

test('words that mean a measure are taken out, the others stay', () => {
  const typed = 'slow bass loop  Dm velvet';
  expect(withoutTerms(typed, ['tempoFrom', 'tempoTo'])).toBe('bass loop Dm velvet');
  expect(withoutTerms(typed, ['kind'])).toBe('slow bass Dm velvet');
  expect(withoutTerms(typed, ['part:bass'])).toBe('slow loop Dm velvet');
  expect(withoutTerms(typed, ['keyTonic', 'keyMode'])).toBe('slow bass loop velvet');
  expect(withoutTerms('90-95 90-95 rope', ['tempoTo'])).toBe('rope');
  expect(withoutTerms(typed, ['lacks'])).toBe(typed);
});
