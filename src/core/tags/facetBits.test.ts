import { FACET_BITS, facetBits, tagsOfBits } from './facetBits';
import { FACETS } from './facets';

test('every value of every facet has a bit of its own', () => {
  const all = Object.entries(FACETS).flatMap(([facet, values]) => values.map((value) => `${facet}:${value}`));
  expect([...FACET_BITS].sort()).toEqual(all.sort());
  expect(new Set(FACET_BITS).size).toBe(FACET_BITS.length);
  expect(FACET_BITS.length).toBeLessThanOrEqual(63);
});

test('bits that are stored keep their meaning', () => {
  expect([FACET_BITS[0], FACET_BITS[8], FACET_BITS[15], FACET_BITS[39]]).toEqual([
    'part:drums',
    'part:full mix',
    'motion:still',
    'feel:hard swung',
  ]);
});

test('tags become bits and come back; free words have none', () => {
  const bits = facetBits([
    { facet: 'feel', value: 'hard swung' },
    { facet: 'part', value: 'bass' },
    { facet: 'word', value: 'bass' },
  ]);
  expect(bits).toBe(String(2 ** 39 + 4));
  expect(tagsOfBits(bits)).toEqual([
    { facet: 'part', value: 'bass' },
    { facet: 'feel', value: 'hard swung' },
  ]);
});
