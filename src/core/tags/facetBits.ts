import type { Tag } from './facets';

/**
 * The values of the closed facets, each at the place of its bit in the number that the index of the library knows
 * them by. The order is stored: a new value goes to the end, and none is ever moved. A bigint has room for 63.
 */
export const FACET_BITS: readonly `${string}:${string}`[] = [
  'part:drums',
  'part:percussion',
  'part:bass',
  'part:chords',
  'part:lead',
  'part:voice',
  'part:pad',
  'part:effect',
  'part:full mix',
  'made by:struck',
  'made by:plucked',
  'made by:bowed',
  'made by:blown',
  'made by:sung',
  'made by:electronic',
  'motion:still',
  'motion:calm',
  'motion:moving',
  'motion:lively',
  'motion:busy',
  'colour:dark',
  'colour:warm',
  'colour:even',
  'colour:clear',
  'colour:bright',
  'grain:smooth',
  'grain:fine',
  'grain:grainy',
  'grain:coarse',
  'grain:rough',
  'room:close',
  'room:near',
  'room:roomy',
  'room:wide',
  'room:far',
  'feel:straight',
  'feel:leaning',
  'feel:loping',
  'feel:swung',
  'feel:hard swung',
];

/** The tags of closed facets as one number, in decimal digits (it may be larger than 2^53). */
export function facetBits(tags: readonly Tag[]): string {
  let bits = 0n;
  for (const { facet, value } of tags) {
    const at = FACET_BITS.indexOf(`${facet}:${value}`);
    if (at >= 0) bits |= 1n << BigInt(at);
  }
  return bits.toString();
}

const TAGS: readonly Tag[] = FACET_BITS.map((one) => {
  const at = one.indexOf(':');
  return { facet: one.slice(0, at) as Tag['facet'], value: one.slice(at + 1) };
});

/** The inverse of `facetBits`: the tags in the order of their bits. */
export function tagsOfBits(bits: string): Tag[] {
  const digits = BigInt(bits).toString(2);
  return TAGS.filter((_, at) => digits[digits.length - 1 - at] === '1');
}
