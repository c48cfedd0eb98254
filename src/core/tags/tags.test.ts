import type { Measurement } from '../measurement/schema';
import { FACETS, isKnownTag } from './facets';
import { proposePart, proposeTags } from './proposeTags';

test('only values of the facets and short free words are tags', () => {
  expect(isKnownTag({ facet: 'part', value: 'drums' })).toBe(true);
  expect(isKnownTag({ facet: 'part', value: 'bowed' })).toBe(false);
  expect(isKnownTag({ facet: 'word', value: 'rainy' })).toBe(true);
  expect(isKnownTag({ facet: 'word', value: ' ' })).toBe(false);
});

test('proposals move along their scales with what was measured', () => {
  const at = (onsetsPerSecond: number, centroidHz: number, swing: number | null) =>
    Object.fromEntries(
      proposeTags({
        character: { onsetsPerSecond, centroidHz, flatness: 0.1, decaySeconds: null, attackMs: null },
        swing,
      }).map(({ tag: { facet, value } }) => [facet, value]),
    );
  expect(at(0.2, 200, 0.5)).toMatchObject({ motion: 'still', colour: 'dark', feel: 'straight' });
  expect(at(20, 8000, 0.69)).toMatchObject({ motion: 'busy', colour: 'bright', feel: 'hard swung' });
  expect(at(3, 1000, null)).not.toHaveProperty('feel');
  expect(at(3, 1000, null)).not.toHaveProperty('room');
  expect(FACETS.motion).toContain(at(3, 1000, null).motion);
  expect(proposeTags({ character: null, swing: 0.6 })).toEqual([]);
});

test.each([
  ['Night Parade - 2 Bass.wav', 'bass'],
  ['full_mix_take_3.wav', 'full mix'],
  ['Velvet Trot 92.wav', undefined],
])('%s proposes the part %s', (name, part) => {
  expect(proposePart(name, null)[0]?.tag.value).toBe(part);
});

test('the part is told by what was measured where the name says nothing, with its reason', () => {
  const measured = (centroidHz: number, flatness: number, key: Measurement['key']) =>
    ({
      kind: 'loop',
      key,
      character: { onsetsPerSecond: 4, centroidHz, flatness, decaySeconds: null },
    }) as Measurement;
  const key = { tonic: 'A', mode: 'minor' as const, sureness: 0.9, alternatives: [] };
  const said = (...args: Parameters<typeof measured>) =>
    proposePart('take 3.wav', measured(...args)).map(({ tag, reason }) => [tag.value, reason]);
  expect(said(180, 0.01, key)).toEqual([['bass', 'it has a pitch, and its spectrum centres at 180 Hz']]);
  expect(said(3000, 0.3, null)).toEqual([
    ['drums', '4.0 hits a second, and no key'],
    ['struck', 'drums are struck'],
  ]);
  expect(said(1200, 0.02, key)).toEqual([]);
});
