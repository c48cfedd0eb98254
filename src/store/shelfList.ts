import { z } from 'zod';
import type { Target } from '@/contract/orders';
import {
  LENGTHS,
  LACKS,
  MEASURES,
  type Measure,
  type SamplePage,
  type ShelfFacets,
  type ShelfQuery,
} from '@/contract/shelfQuery';
import { FACET_BITS } from '@/core/tags/facetBits';
import { database } from './database';
import { page, targetsInOrder, type Choice, type Order } from './lists';
import { byStrain, likest } from './reuseOrders';
import { fromRow } from './rows';
import { understood } from './searchWords';
import { countedPart, LACKS as LACKING, shelfChoice } from './shelfChoice';
import { readSummaries } from './summaries';

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
export async function shelfTargets(query: ShelfQuery, most = MOST_CHOSEN): Promise<Target[]> {
  const choice = shelfChoice(query, await understood(query.text));
  const order = indexedOrder(query);
  if (order) return targetsInOrder(choice, order, most);
  const [, ids] = await byReuse(choice, { ...query, offset: 0, limit: most });
  const { rows } = await database().query(
    `select s.sample_id as "sampleId", s.sequence as base
       from unnest($1::uuid[]) with ordinality as wanted (id, place) join settled s on s.sample_id = wanted.id order by place`,
    [ids],
  );
  return rows;
}

const facetRow = z.object({
  bits: z.array(z.coerce.number()),
  lacks: z.array(z.coerce.number()),
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
  const { where, whole, exact } = await countedPart(choice);
  const bits = FACET_BITS.map((_, bit) => `count(*) filter (where facets & ${1n << BigInt(bit)} <> 0)`);
  const columns = [
    ...MEASURES.map((name) => `(${MEASURED[name]}) as "${name}"`),
    ...LACKS.map((name) => `(${LACKING[name]}) as "lacks ${name}"`),
  ].join(', ');
  const lacking = LACKS.map((name) => `count(*) filter (where "lacks ${name}")`);
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
            (select array[${lacking.join(', ')}] from found) as lacks,
            (select coalesce(json_agg(json_build_object('facet', facet, 'value', value, 'count', count) order by facet, place), '[]')
               from measured where place <= ${MOST_VALUES}) as measures,
            (select coalesce(json_agg(w order by count desc, value), '[]') from (
               select value, count(*) as count from found, unnest(words) value group by 1 order by 2 desc, 1 limit 200) w) as words`,
    choice.values,
  );
  const { bits: counts, lacks, measures, words } = fromRow(facetRow, rows[0], 'count of facets');
  const counted = FACET_BITS.map((tag, bit) => {
    const at = tag.indexOf(':');
    return { facet: tag.slice(0, at), value: tag.slice(at + 1), count: counts[bit] };
  });
  return {
    exact,
    facets: [
      ...measures,
      ...[...LACKS.map((value, i) => ({ facet: 'lacks', value, count: lacks[i] })), ...counted].filter(
        ({ count }) => count > 0,
      ),
      ...words.map(({ value, count }) => ({ facet: 'word', value, count })),
    ].map(({ facet, value, count }) => ({ facet, value, count: whole(count) })),
  };
}
