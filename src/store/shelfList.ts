import { z } from 'zod';
import { ALL_KEYS } from '@/core/harmony/keyNames';
import { nearKeys } from '@/core/harmony/nearKeys';
import type { Target } from '@/contract/orders';
import {
  LENGTHS,
  MEASURES,
  type Measure,
  type SamplePage,
  type ShelfFacets,
  type ShelfQuery,
} from '@/contract/shelfQuery';
import { FACET_BITS } from '@/core/tags/facetBits';
import { database } from './database';
import { estimate, page, targetsInOrder, type Choice, type Order } from './lists';
import { byStrain, likest } from './reuseOrders';
import { fromRow } from './rows';
import { conditionOf, understood, type Understood } from './searchWords';
import { readSummaries } from './summaries';

/** Facets of so many are counted whole. */
const FACETS_WHOLE = 7_500;
/** Facets of more are estimated from a part of about this size, and from no more than so many 64ths of all. */
const FACET_ROWS = 5_000;
const MOST_LOTS = 4;

const SHELF_ORDERS: Record<Exclude<ShelfQuery['sort'], 'strain' | 'likeness'>, string> = {
  saved: 'saved_at',
  name: 'sort_name',
  tempo: 'tempo_bpm',
  key: 'key_number',
  length: 'duration_seconds',
  rating: 'rating',
};

/** Saved samples that match. Values of one facet widen the choice, different facets narrow it. */
export async function shelfPage(query: ShelfQuery): Promise<SamplePage> {
  const words = await understood(query.text);
  const choice = shelfChoice(query, words);
  const order = indexedOrder(query);
  if (order) return page(choice, order, query, words);
  const [total, ids] = await byReuse(choice, query);
  return {
    total: query.offset === 0 ? total : null,
    more: false,
    insteadOf: words.insteadOf,
    rows: await readSummaries(database(), ids),
  };
}

/** The order of a query where an index of its own has it; null for those of reuse. */
function indexedOrder({ sort, direction, like }: ShelfQuery): Order | null {
  if (sort === 'likeness' && like === null) return { column: SHELF_ORDERS.saved, direction: 'down' };
  return sort === 'strain' || sort === 'likeness' ? null : { column: SHELF_ORDERS[sort], direction };
}

const byReuse = (choice: Choice, query: ShelfQuery): Promise<[total: number, ids: string[]]> =>
  query.sort === 'likeness' ? likest(choice, query) : byStrain(choice, query);

/** So many are chosen together at most. */
const MOST_CHOSEN = 20_000;

/** The numbers and revisions of the samples that a query finds, in its order; the first of them where they are very many. */
export async function shelfTargets(query: ShelfQuery): Promise<Target[]> {
  const choice = shelfChoice(query, await understood(query.text));
  const order = indexedOrder(query);
  if (order) return targetsInOrder(choice, order, MOST_CHOSEN);
  const [, ids] = await byReuse(choice, { ...query, offset: 0, limit: MOST_CHOSEN });
  const { rows } = await database().query(
    `select s.sample_id as "sampleId", s.sequence as base
       from unnest($1::uuid[]) with ordinality as wanted (id, place) join settled s on s.sample_id = wanted.id order by place`,
    [ids],
  );
  return rows;
}

const facetRow = z.object({
  bits: z.array(z.coerce.number()),
  measures: z.array(z.object({ facet: z.string(), value: z.string(), count: z.number() })),
  words: z.array(z.object({ value: z.string(), count: z.number() })),
});

/** What a row of `settled` counts as under each measure; null: under none of it. */
const MEASURED: Readonly<Record<Measure, string>> = {
  kind: 'kind',
  bars: 'bars::text',
  meter: "beats_per_bar || '/' || beat_unit",
  length: `case ${LENGTHS.map(({ words, to }) => (to === null ? `when true then '${words}'` : `when duration_seconds < ${to} then '${words}'`)).join(' ')} end`,
  moves: "case when steady then 'steady' when not steady then 'moving' end",
  proof: "case when proof = 'current' then 'proved' else 'unproved' end",
  rating: 'rating::text',
  licence: "nullif(licence, '')",
  origin: "nullif(origin, '')",
  made: "case when parent is not null then 'derived' else 'as it arrived' end",
};

/** So many values of one measure are told, the most frequent first. */
const MOST_VALUES = 24;

/** How many of what a query of the Shelf finds have each tag and each value of the measures; of very many an estimate. */
export async function shelfFacetCounts(query: ShelfQuery): Promise<ShelfFacets> {
  const choice = shelfChoice(query, await understood(query.text));
  const { rows: expected } = await estimate(choice);
  const part = Math.max(1, Math.min(MOST_LOTS, Math.floor((64 * FACET_ROWS) / expected)));
  const lots = expected <= FACETS_WHOLE ? 64 : part;
  // In a part the words are looked for row by row: their index would be read for the whole library.
  const where = (
    lots === 64
      ? choice.where
      : [
          `s.lot < ${lots}`,
          ...choice.where.map((one) => one.replace('s.search_text', "(s.search_text || '')")),
        ]
  ).join(' and ');
  const bits = FACET_BITS.map((_, bit) => `count(*) filter (where facets & ${1n << BigInt(bit)} <> 0)`);
  const columns = MEASURES.map((name) => `(${MEASURED[name]}) as "${name}"`).join(', ');
  /** Of the measure that a row of the grouping is about. */
  const ofMeasure = (what: (name: string) => string) =>
    `case ${MEASURES.map((name) => `when grouping("${name}") = 0 then ${what(name)}`).join(' ')} end`;
  const { rows } = await database().query(
    `with found as materialized (select s.facets, s.words, ${columns} from settled s where ${where}),
     valued as (
       select ${ofMeasure((name) => `'${name}'`)} as facet, ${ofMeasure((name) => `"${name}"`)} as value, count(*) as count
         from found group by grouping sets (${MEASURES.map((name) => `("${name}")`).join(', ')})),
     measured as (
       select facet, value, count, row_number() over (partition by facet order by count desc, value) as place from valued where value is not null)
     select (select array[${bits.join(', ')}] from found) as bits,
            (select coalesce(json_agg(json_build_object('facet', facet, 'value', value, 'count', count) order by facet, place), '[]')
               from measured where place <= ${MOST_VALUES}) as measures,
            (select coalesce(json_agg(w order by count desc, value), '[]') from (
               select value, count(*) as count from found, unnest(words) value group by 1 order by 2 desc, 1 limit 200) w) as words`,
    choice.values,
  );
  const { bits: counts, measures, words } = fromRow(facetRow, rows[0], 'count of facets');
  const whole = (count: number) => Math.round((count * 64) / lots);
  const counted = FACET_BITS.map((tag, bit) => {
    const at = tag.indexOf(':');
    return { facet: tag.slice(0, at), value: tag.slice(at + 1), count: counts[bit] };
  });
  return {
    exact: lots === 64,
    facets: [
      ...measures,
      ...counted.filter(({ count }) => count > 0),
      ...words.map(({ value, count }) => ({ facet: 'word', value, count })),
    ].map(({ facet, value, count }) => ({ facet, value, count: whole(count) })),
  };
}

function shelfChoice(query: ShelfQuery, words: Understood): Choice {
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
