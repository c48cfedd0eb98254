import { ALL_KEYS } from '@/core/harmony/keyNames';
import { nearKeys } from '@/core/harmony/nearKeys';
import { FACET_BITS } from '@/core/tags/facetBits';
import type { Lack, ShelfQuery } from '@/contract/shelfQuery';
import { estimate, type Choice } from './lists';
import { conditionOf, type Understood } from './searchWords';

/** So many are counted whole. */
const COUNTED_WHOLE = 7_500;
/** More are estimated from a part of about this size, and from no more than so many 64ths of all. */
const PART_ROWS = 5_000;
const MOST_LOTS = 4;

/** How a row of `settled` is that lacks something. */
export const LACKS: Readonly<Record<Lack, string>> = {
  licence: "s.licence = ''",
  tags: "s.facets = 0 and s.words = '{}'",
};

/** Saved samples that a query of the Shelf asks for. */
export function shelfChoice(query: ShelfQuery, words: Understood): Choice {
  const values: unknown[] = [];
  const bind = (value: unknown) => `$${values.push(value)}`;
  const where = ["s.standing = 'saved'", 's.binned_at is null'];
  for (const word of words.words) where.push(conditionOf(word, bind));
  if (query.tempoFrom !== null || query.tempoTo !== null) {
    const [from, to] = [query.tempoFrom ?? 0, query.tempoTo ?? 10_000];
    const within = (ratio: number) => `s.tempo_bpm between ${bind(from * ratio)} and ${bind(to * ratio)}`;
    where.push(`(${(query.alsoHalfDouble ? [1, 2, 0.5] : [1]).map(within).join(' or ')})`);
  }
  if (query.keyTonic !== null || query.keyMode !== null) {
    const keys = ALL_KEYS.filter(
      ({ tonic, mode }) => (query.keyTonic ?? tonic) === tonic && (query.keyMode ?? mode) === mode,
    ).flatMap((key) => nearKeys(key, query.keyNear));
    // A one-shot has a root: its mode says nothing.
    const others = keys.map((key) => (key + 12) % 24);
    where.push(
      `(s.key_number = any(${bind(keys)}::smallint[]) or (s.kind = 'oneshot' and s.key_number = any(${bind(others)}::smallint[])))`,
    );
  }
  for (const [column, value] of [
    ['kind', query.kind],
    ['beats_per_bar', query.beatsPerBar],
    ['beat_unit', query.beatUnit],
    ['bars', query.bars],
    ['origin', query.origin],
    ['licence', query.licence],
    ['parent', query.parent],
  ] as const)
    if (value !== null) where.push(`s.${column} = ${bind(value)}`);
  if (query.lengthFrom !== null) where.push(`s.duration_seconds >= ${bind(query.lengthFrom)}`);
  if (query.lengthTo !== null) where.push(`s.duration_seconds < ${bind(query.lengthTo)}`);
  if (query.ratingFrom !== null) where.push(`s.rating >= ${bind(query.ratingFrom)}`);
  if (query.moves !== null) where.push(`s.steady = ${query.moves === 'steady'}`);
  if (query.made !== null) where.push(`s.parent is ${query.made === 'derived' ? 'not null' : 'null'}`);
  if (query.lacks !== null) where.push(LACKS[query.lacks]);
  if (query.proof !== null)
    where.push(`s.proof is ${query.proof === 'proved' ? 'not ' : ''}distinct from 'current'`);
  const byFacet = new Map<string, string[]>();
  for (const tag of query.tags) {
    const facet = tag.slice(0, tag.indexOf(':'));
    byFacet.set(facet, [...(byFacet.get(facet) ?? []), tag]);
  }
  for (const [facet, wanted] of byFacet) {
    if (facet === 'word') {
      where.push(`s.words && ${bind(wanted.map((tag) => tag.slice(tag.indexOf(':') + 1)))}::text[]`);
      continue;
    }
    const mask = wanted.reduce((bits, tag) => {
      const bit = FACET_BITS.indexOf(tag as (typeof FACET_BITS)[number]);
      return bit < 0 ? bits : bits | (1n << BigInt(bit));
    }, 0n);
    where.push(`s.facets & ${bind(mask.toString())}::bigint <> 0`);
  }
  return { where, values };
}

/** What is counted of a choice: all, or so many 64ths of it by chance. */
export interface CountedPart {
  /** Conditions on `settled s`. */
  where: string;
  exact: boolean;
  /** A count in the part, raised to the whole. */
  whole: (count: number) => number;
}

/** Of few all are counted, of many a part. */
export async function countedPart(choice: Choice): Promise<CountedPart> {
  const { rows: expected } = await estimate(choice);
  if (expected <= COUNTED_WHOLE)
    return { where: choice.where.join(' and '), exact: true, whole: (count) => count };
  const lots = Math.max(1, Math.min(MOST_LOTS, Math.floor((64 * PART_ROWS) / expected)));
  // In a part the words are looked for row by row: their index would be read for the whole library.
  const where = [
    `s.lot < ${lots}`,
    ...choice.where.map((one) => one.replace('s.search_text', "(s.search_text || '')")),
  ].join(' and ');
  return { where, exact: false, whole: (count) => Math.round((count * 64) / lots) };
}
