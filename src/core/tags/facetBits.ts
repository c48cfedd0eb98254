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

/** The inverse of `facetBits`, as `facet:value` in the order of the bits. */
export function facetsOfBits(bits: bigint): string[] {
  return FACET_BITS.filter((_, at) => (bits >> BigInt(at)) & 1n);
}
