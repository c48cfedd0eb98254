import { nameFromTemplate } from './nameTemplate';

const sample = {
  name: 'Velvet Trot.wav',
  folder: 'Pellworth/Loops',
  kind: 'oneshot' as const,
  tempoBpm: 88.402,
  beatsPerBar: 3,
  beatUnit: 4,
  bars: 8,
  keyTonic: 9,
  keyMode: 'minor' as const,
  tags: [{ facet: 'part' as const, value: 'bass' }],
  toneless: false,
};
const named = (template: string, change: Partial<typeof sample> | object = {}) =>
  nameFromTemplate(template, { ...sample, ...change });

test.each([
  ['{name} {bpm} bpm {key}', 'Velvet Trot 88.4 bpm A.wav'],
  ['{part}_{meter}_{bars}_{kind}', 'bass_3-4_8_one-shot.wav'],
  ['{folder}: {name}', 'Loops: Velvet Trot.wav'],
  ['  {name}   x ', 'Velvet Trot x.wav'],
])('%s', (template, name) => {
  expect(named(template)).toEqual({ name, fault: null });
});

test('what hangs on a field that is missing goes with it', () => {
  const bare = { tempoBpm: null, keyTonic: null, keyMode: null };
  expect(named('{name}[ {bpm} bpm][ in {key}]', bare).name).toBe('Velvet Trot.wav');
  expect(named('{name}[ {bpm} bpm][ in {key}]').name).toBe('Velvet Trot 88.4 bpm in A.wav');
});

test('strokes in names become dashes; nothing and too much are refused', () => {
  expect(named('a/b\\c {name}').name).toBe('a-b-c Velvet Trot.wav');
  expect(named('[{key}]', { keyTonic: null, keyMode: null }).fault).toMatch(/empty name/);
  expect(named('{mood}').fault).toBe('There is no field {mood}.');
  expect(named('x'.repeat(299)).fault).toMatch(/longer than 300/);
});

const USUAL = '{name}[ {bpm} bpm][ {key}]';

test.each([
  ['Velvet Trot 88 bpm.wav', 'Velvet Trot 88.4 bpm Am.wav'],
  ['88_Velvet_Am_take2.wav', 'Velvet_take2 88.4 bpm Am.wav'],
  ['Velvet-118bpm-C#m.wav', 'Velvet 88.4 bpm Am.wav'],
  ['Trot 12 (Am).wav', 'Trot 12 88.4 bpm Am.wav'],
  ['Plan A take 94.wav', 'Plan A take 94 88.4 bpm Am.wav'],
  ['Am 88.4.wav', '88.4 bpm Am.wav'],
])('a name that says tempo or key does not say them twice: %s', (name, wanted) => {
  expect(named(USUAL, { name, kind: 'loop' }).name).toBe(wanted);
});

test('at a target the tempo and key of before make room for the new ones', () => {
  const before = { tempoBpm: 118.02, key: { tonic: 2, mode: 'minor' } };
  expect(named(USUAL, { name: 'Moth_118_Dm.wav', kind: 'loop', before }).name).toBe('Moth 88.4 bpm Am.wav');
});

test('drums have no key in their name, whatever their set is in; nor has what has no lasting pitch', () => {
  const drums = { kind: 'loop', tags: [{ facet: 'part', value: 'drums' }] };
  expect(named(USUAL, drums).name).toBe('Velvet Trot 88.4 bpm.wav');
  expect(named(USUAL, { kind: 'loop', toneless: true }).name).toBe('Velvet Trot 88.4 bpm.wav');
});
