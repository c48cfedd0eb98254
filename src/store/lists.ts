import { z } from 'zod';
import { doubtBit } from '@/core/library/listRow';
import type {
  IntakeCounts,
  IntakeQuery,
  SamplePage,
  ShelfFacets,
  ShelfQuery,
} from '@/core/library/shelfQuery';
import { ALL_KEYS } from '@/core/harmony/keyNames';
import { NEED_SORTS } from '@/core/library/needsALook';
import { FACET_BITS } from '@/core/tags/facetBits';
import { database } from './database';
import { leastStrained, likest, type Choice } from './reuseOrders';
import { fromRow } from './rows';
import { readSummaries } from './summaries';
import { understood, type Understood } from './searchWords';

interface Order {
  /** A column of `settled` with an index of its own. */
  column: string;
  direction: 'up' | 'down';
}

/** Which rows of a list are asked for; `of`: how many there are, where that is known. */
type Page = Pick<IntakeQuery, 'offset' | 'limit' | 'of'>;

/** So many are found, put in order and counted whole; of more the order's index is gone along. */
const FEW = 12_000;
/** Where words stand in very many rows the list ends here. */
const MOST_OF_MANY = 2_000;
/** Planner's cost above which rows with a word are not counted to the end. */
const DEAR = 6_000;
/** Facets of so many are counted whole. */
const FACETS_WHOLE = 7_500;
/** Facets of more are estimated from a part of about this size, and from no more than so many 64ths of all. */
const FACET_ROWS = 5_000;
const MOST_LOTS = 4;

const IS_OPEN = `exists (select from tasks t where t.sample_id = s.sample_id and t.kind = 'measure' and t.state in ('waiting', 'running'))`;

/** As ranges of the index by standing. */
const NOT_SAVED = "s.binned_at is null and s.standing in ('arrived', 'measured', 'proved')";

const SHOW: Record<IntakeQuery['show'], string> = {
  all: 's.binned_at is null',
  'needs a look': `s.binned_at is null and (s.doubt_sorts <> 0 or s.faulty) and s.standing <> 'saved'`,
  ...(Object.fromEntries(
    NEED_SORTS.map((sort) => [
      sort,
      // Said twice for the index of doubtful ones, which knows only whether there is any.
      `s.binned_at is null and s.doubt_sorts <> 0 and s.doubt_sorts & ${doubtBit(sort)} <> 0 and s.standing <> 'saved'`,
    ]),
  ) as Record<(typeof NEED_SORTS)[number], string>),
  sure: `s.binned_at is null and s.doubt_sorts = 0 and not s.faulty and s.standing = 'measured'`,
  measuring: `s.binned_at is null and ${IS_OPEN}`,
  faulty: 's.binned_at is null and s.faulty',
  'not saved': NOT_SAVED,
  saved: `s.binned_at is null and s.standing = 'saved'`,
  bin: 's.binned_at is not null and not exists (select from samples x where x.sample_id = s.sample_id and x.merged_into is not null)',
};

/** Columns that every row of their list has a value in. */
const NEVER_EMPTY = new Set(['arrived_at', 'sort_name', 'standing', 'urgency', 'saved_at']);

const INTAKE_ORDERS: Record<IntakeQuery['sort'], string> = {
  arrived: 'arrived_at',
  name: 'sort_name',
  kind: 'kind',
  length: 'duration_seconds',
  tempo: 'tempo_bpm',
  key: 'key_number',
  standing: 'standing',
  need: 'urgency',
};

const SHELF_ORDERS: Record<Exclude<ShelfQuery['sort'], 'strain' | 'likeness'>, string> = {
  saved: 'saved_at',
  name: 'sort_name',
  tempo: 'tempo_bpm',
  key: 'key_number',
  length: 'duration_seconds',
  rating: 'rating',
};

/** One page of the Intake. */
export async function intakePage(query: IntakeQuery): Promise<SamplePage> {
  const words = await understood(query.text);
  const order = { column: INTAKE_ORDERS[query.sort], direction: query.direction };
  return page(intakeChoice(query, words, SHOW[query.show]), order, query, words);
}

/** The numbers and revisions of all samples that a query of the Intake finds, in its order. */
export async function intakeTargets(
  query: IntakeQuery,
): Promise<{ sampleId: string; base: number | null }[]> {
  const { where, values } = intakeChoice(query, await understood(query.text), SHOW[query.show]);
  const way = query.direction === 'up' ? 'asc nulls last' : 'desc nulls last';
  const { rows } = await database().query(
    `select s.sample_id as "sampleId", s.sequence as base from settled s where ${where.join(' and ')}
      order by s.${INTAKE_ORDERS[query.sort]} ${way}, s.sample_id ${query.direction === 'up' ? '' : 'desc'}`,
    values,
  );
  return rows;
}

/** How many samples there are under each choice of `show`, how many sets are proposed, and how many pairs are alike. */
export async function intakeCounts(query: IntakeQuery): Promise<IntakeCounts> {
  const words = await understood(query.text);
  const counted = async (show: string): Promise<number> => {
    const { where, values } = intakeChoice(query, words, show);
    const { rows } = await database().query(
      `select count(*) as count from settled s where ${where.join(' and ')}`,
      values,
    );
    return rows[0].count;
  };
  const groups = async () => {
    const { where, values } = intakeChoice(query, words, NOT_SAVED);
    const { rows } = await database().query(
      `select s.standing, s.faulty, s.doubt_sorts as doubts, count(*) as count from settled s
        where ${where.join(' and ')} group by 1, 2, 3`,
      values,
    );
    return rows as { standing: string; faulty: boolean; doubts: number; count: number }[];
  };
  // The two long ones one after the other: beside each other both would take twice as long.
  const open = await groups();
  const [saved, faulty, bin, measuring, { rows: beside }] = await Promise.all([
    counted(SHOW.saved),
    counted(SHOW.faulty),
    counted(SHOW.bin),
    counted(SHOW.measuring),
    database().query(
      `select (select count(*) from stem_sets where state = 'proposed') as sets,
              (select count(*) from likenesses l join settled x on x.sample_id = l.a join settled y on y.sample_id = l.b
                where l.state = 'open' and x.binned_at is null and y.binned_at is null) as pairs`,
    ),
  ]);
  const sum = (counts: (group: (typeof open)[number]) => boolean) =>
    open.reduce((all, group) => (counts(group) ? all + group.count : all), 0);
  return {
    all: sum(() => true) + saved,
    'needs a look': sum((group) => group.doubts !== 0 || group.faulty),
    ...Object.fromEntries(
      NEED_SORTS.map((sort) => [sort, sum(({ doubts }) => (doubts & doubtBit(sort)) !== 0)]),
    ),
    sure: sum((group) => group.doubts === 0 && !group.faulty && group.standing === 'measured'),
    measuring,
    faulty,
    'not saved': sum(() => true),
    saved,
    bin,
    'proposed stem sets': beside[0].sets,
    'alike pairs': beside[0].pairs,
  };
}

/** Saved samples that match. Values of one facet widen the choice, different facets narrow it. */
export async function shelfPage(query: ShelfQuery): Promise<SamplePage> {
  const words = await understood(query.text);
  const { sort, direction } = query;
  const choice = shelfChoice(query, words);
  if (sort === 'likeness' && query.like === null)
    return page(choice, { column: SHELF_ORDERS.saved, direction: 'down' }, query, words);
  if (sort !== 'strain' && sort !== 'likeness')
    return page(choice, { column: SHELF_ORDERS[sort], direction }, query, words);
  const [total, ids] =
    sort === 'likeness'
      ? await likest(choice, query)
      : await Promise.all([countMany(choice, false), leastStrained(choice, query)]);
  return {
    total: query.offset === 0 ? total : null,
    more: false,
    insteadOf: words.insteadOf,
    rows: await readSummaries(database(), ids),
  };
}

const facetRow = z.object({
  bits: z.array(z.coerce.number()),
  kinds: z.array(z.object({ kind: z.string(), count: z.number() })),
  words: z.array(z.object({ value: z.string(), count: z.number() })),
});

/** How many of what a query of the Shelf finds have each tag and kind; of very many an estimate. */
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
  const { rows } = await database().query(
    `with found as materialized (select s.facets, s.kind, s.words from settled s where ${where})
     select (select array[${bits.join(', ')}] from found) as bits,
            (select coalesce(json_agg(k order by kind), '[]') from (
               select kind, count(*) as count from found where kind is not null group by 1) k) as kinds,
            (select coalesce(json_agg(w order by count desc, value), '[]') from (
               select value, count(*) as count from found, unnest(words) value group by 1 order by 2 desc, 1 limit 200) w) as words`,
    choice.values,
  );
  const { bits: counts, kinds, words } = fromRow(facetRow, rows[0], 'count of facets');
  const whole = (count: number) => Math.round((count * 64) / lots);
  const counted = FACET_BITS.map((tag, bit) => {
    const at = tag.indexOf(':');
    return { facet: tag.slice(0, at), value: tag.slice(at + 1), count: whole(counts[bit]) };
  });
  return {
    exact: lots === 64,
    facets: [
      ...counted.filter(({ count }) => count > 0),
      ...words.map(({ value, count }) => ({ facet: 'word', value, count: whole(count) })),
    ],
    kinds: kinds.map(({ kind, count }) => ({ kind, count: whole(count) })),
  };
}

function intakeChoice({ kind }: Pick<IntakeQuery, 'kind'>, words: Understood, show: string): Choice {
  const values: unknown[] = [];
  const where = [show];
  // Each by itself: the index of letters does not see into an array.
  for (const pattern of words.patterns) where.push(`s.search_text like $${values.push(pattern)}`);
  if (kind !== '') where.push(`s.kind = $${values.push(kind)}`);
  return { where, values };
}

function shelfChoice(query: ShelfQuery, words: Understood): Choice {
  const values: unknown[] = [];
  const bind = (value: unknown) => `$${values.push(value)}`;
  const where = ["s.standing = 'saved'", 's.binned_at is null'];
  for (const pattern of words.patterns) where.push(`s.search_text like ${bind(pattern)}`);
  if (query.tempoFrom !== null || query.tempoTo !== null) {
    const [from, to] = [query.tempoFrom ?? 0, query.tempoTo ?? 10_000];
    const within = (ratio: number) => `s.tempo_bpm between ${bind(from * ratio)} and ${bind(to * ratio)}`;
    where.push(`(${(query.alsoHalfDouble ? [1, 2, 0.5] : [1]).map(within).join(' or ')})`);
  }
  if (query.keyTonic !== null || query.keyMode !== null) {
    const keys = ALL_KEYS.flatMap(({ tonic, mode }, number) =>
      (query.keyTonic ?? tonic) === tonic && (query.keyMode ?? mode) === mode ? [number] : [],
    );
    where.push(`s.key_number = any(${bind(keys)}::smallint[])`);
  }
  for (const [column, value] of [
    ['kind', query.kind],
    ['beats_per_bar', query.beatsPerBar],
    ['beat_unit', query.beatUnit],
    ['bars', query.bars],
  ] as const)
    if (value !== null) where.push(`s.${column} = ${bind(value)}`);
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

/** How many rows the planner expects, and what it thinks that counting them costs. */
async function estimate({ where, values }: Choice): Promise<{ rows: number; cost: number }> {
  const { rows } = await database().query(
    `explain (format json) select 1 from settled s where ${where.join(' and ')}`,
    values,
  );
  const plan = rows[0]['QUERY PLAN'][0].Plan;
  return { rows: plan['Plan Rows'], cost: plan['Total Cost'] };
}

/**
 * A page of what is chosen. Where few match they are found first and then put in order; where many do, their order's
 * index is gone along until the page is full. The planner, which would have to guess how they are spread along the
 * order, is not asked to choose between the two, only how many they are.
 */
async function page(choice: Choice, order: Order, asked: Page, words: Understood): Promise<SamplePage> {
  const { offset, limit } = asked;
  const wantsTotal = offset === 0;
  const expected = await estimate(choice);
  const isDear = words.patterns.length > 0 && expected.cost > DEAR;
  const [total, ids] =
    expected.rows <= FEW
      ? await pageOfFew(choice, order, offset, limit)
      : await Promise.all([
          wantsTotal ? countMany(choice, isDear) : null,
          pageOfMany(choice, order, isDear ? { ...asked, of: null } : asked),
        ]);
  const more = expected.rows > FEW && isDear && total !== null && total > MOST_OF_MANY;
  return {
    total: wantsTotal ? (more ? MOST_OF_MANY : total) : null,
    more,
    insteadOf: words.insteadOf,
    rows: await readSummaries(database(), ids),
  };
}

async function pageOfFew(
  { where, values }: Choice,
  { column, direction }: Order,
  offset: number,
  limit: number,
): Promise<[total: number, ids: string[]]> {
  const way = direction === 'up' ? 'asc nulls last, sample_id' : 'desc nulls last, sample_id desc';
  const { rows } = await database().query(
    `with found as materialized (select s.sample_id, s.${column} as rank from settled s where ${where.join(' and ')})
     select (select count(*) from found) as total,
            array(select sample_id from found order by rank ${way} offset $${values.length + 1} limit $${values.length + 2}) as ids`,
    [...values, offset, limit],
  );
  return [rows[0].total, rows[0].ids];
}

/** Counted to the end, or (`dear`) only so far that it is known to be more than the list shows. */
async function countMany({ where, values }: Choice, dear: boolean): Promise<number> {
  const found = `from settled s where ${where.join(' and ')}`;
  const { rows } = await database().query(
    dear
      ? `select count(*) as total from (select 1 ${found} limit ${MOST_OF_MANY + 1}) counted`
      : `select count(*) as total ${found}`,
    values,
  );
  return rows[0].total;
}

/**
 * Rows without a value come last either way. Both parts are read along the order's index, one after the other (rows
 * of a union of all come in the order of its parts); the further half of a list whose length is known from its end.
 */
async function pageOfMany(
  { where, values }: Choice,
  { column, direction }: Order,
  { offset, limit, of }: Page,
): Promise<string[]> {
  const fromEnd = of !== null && offset > of / 2;
  const skipped = fromEnd ? Math.max(0, of - offset - limit) : offset;
  const count = fromEnd ? Math.min(limit, of - offset) : limit;
  if (count <= 0) return [];
  const isUp = direction === 'up';
  const way = isUp === fromEnd ? 'desc' : 'asc';
  const condition = where.join(' and ');
  const parts = [
    `(select s.sample_id from settled s where ${condition} and s.${column} is not null
       order by s.${column} ${way}, s.sample_id ${way} limit $${values.length + 1})`,
  ];
  if (!NEVER_EMPTY.has(column))
    parts.push(`(select s.sample_id from settled s where ${condition} and s.${column} is null
       order by s.sample_id ${fromEnd ? 'desc' : 'asc'} limit $${values.length + 1})`);
  const { rows } = await database().query(
    `select sample_id as id from (${(fromEnd ? parts.reverse() : parts).join(' union all ')}) found
      offset $${values.length + 2} limit $${values.length + 3}`,
    [...values, skipped + count, skipped, count],
  );
  const ids = rows.map(({ id }) => id as string);
  return fromEnd ? ids.reverse() : ids;
}
