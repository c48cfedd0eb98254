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
  tags: [{ facet: 'part' as const, value: 'drums' }],
};
const named = (template: string, change: Partial<typeof sample> | object = {}) =>
  nameFromTemplate(template, { ...sample, ...change });

test.each([
  ['{name} {bpm} bpm {key}', 'Velvet Trot 88.4 bpm Am.wav'],
  ['{part}_{meter}_{bars}_{kind}', 'drums_3-4_8_one-shot.wav'],
  ['{folder}: {name}', 'Loops: Velvet Trot.wav'],
  ['  {name}   x ', 'Velvet Trot x.wav'],
])('%s', (template, name) => {
  expect(named(template)).toEqual({ name, fault: null });
});

test('what hangs on a field that is missing goes with it', () => {
  const bare = { tempoBpm: null, keyTonic: null, keyMode: null };
  expect(named('{name}[ {bpm} bpm][ in {key}]', bare).name).toBe('Velvet Trot.wav');
  expect(named('{name}[ {bpm} bpm][ in {key}]').name).toBe('Velvet Trot 88.4 bpm in Am.wav');
});

test('strokes in names become dashes; nothing and too much are refused', () => {
  expect(named('a/b\\c {name}').name).toBe('a-b-c Velvet Trot.wav');
  expect(named('[{key}]', { keyTonic: null, keyMode: null }).fault).toMatch(/leaves nothing/);
  expect(named('{mood}').fault).toBe('There is no field {mood}.');
  expect(named('x'.repeat(299)).fault).toMatch(/longer than 300/);
});
