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
        character: { onsetsPerSecond, centroidHz, flatness: 0.1, decaySeconds: null },
        swing,
      }).map(({ facet, value }) => [facet, value]),
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
  expect(proposePart(name)[0]?.value).toBe(part);
});
