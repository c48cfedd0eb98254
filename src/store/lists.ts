import { doubtBit } from '@/core/library/listRow';
import type {
  IntakeCounts,
  IntakeQuery,
  SamplePage,
  ShelfFacets,
  ShelfQuery,
} from '@/core/library/shelfQuery';
import { ALL_KEYS } from '@/core/harmony/keyNames';
import { NEED_SORTS } from '@/core/readings/needsALook';
import { FACET_BITS } from '@/core/tags/facetBits';
import { database } from './database';
import { readSummaries } from './summaries';
import { understood, type Understood } from './searchWords';

/** Conditions on `settled s`, with the values of their parameters. */
interface Choice {
  where: string[];
  values: unknown[];
}

interface Order {
  /** A column of `settled` with an index of its own. */
  column: string;
  direction: 'up' | 'down';
}

/** So many are found, put in order and counted whole; of more the order's index is gone along. */
const FEW = 12_000;
/** Where words stand in very many rows the list ends here. */
const MOST_OF_MANY = 2_000;
/** Planner's cost above which rows with a word are not counted to the end. */
const DEAR = 6_000;
/** Facets of more are estimated from a part of about this size. */
const FACET_ROWS = 12_000;

const IS_OPEN = `exists (select from tasks t where t.sample_id = s.sample_id and t.kind = 'measure' and t.state in ('waiting', 'running'))`;

const SHOW: Record<IntakeQuery['show'], string> = {
  all: 's.binned_at is null',
  'needs a look': `s.binned_at is null and (s.doubt_sorts <> 0 or s.faulty) and s.standing <> 'saved'`,
  ...(Object.fromEntries(
    NEED_SORTS.map((sort) => [
      sort,
      `s.binned_at is null and s.doubt_sorts & ${doubtBit(sort)} <> 0 and s.standing <> 'saved'`,
    ]),
  ) as Record<(typeof NEED_SORTS)[number], string>),
  sure: `s.binned_at is null and s.doubt_sorts = 0 and not s.faulty and s.standing = 'measured'`,
  measuring: `s.binned_at is null and ${IS_OPEN}`,
  faulty: 's.binned_at is null and s.faulty',
  'not saved': `s.binned_at is null and s.standing <> 'saved'`,
  saved: `s.binned_at is null and s.standing = 'saved'`,
  bin: 's.binned_at is not null and not exists (select from samples x where x.sample_id = s.sample_id and x.merged_into is not null)',
};

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

const SHELF_ORDERS: Record<ShelfQuery['sort'], string> = {
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
  const counted = async (show: string, columns: string) => {
    const { where, values } = intakeChoice(query, words, show);
    return (await database().query(`select ${columns} from settled s where ${where.join(' and ')}`, values))
      .rows;
  };
  const groups = async () => {
    const { where, values } = intakeChoice(query, words, SHOW['not saved']);
    const { rows } = await database().query(
      `select s.standing, s.faulty, s.doubt_sorts as doubts, count(*) as count from settled s
        where ${where.join(' and ')} group by 1, 2, 3`,
      values,
    );
    return rows as { standing: string; faulty: boolean; doubts: number; count: number }[];
  };
  const [open, [saved], [bin], [measuring], { rows: beside }] = await Promise.all([
    groups(),
    counted(SHOW.saved, 'count(*) as count, count(*) filter (where s.faulty) as faulty'),
    counted(SHOW.bin, 'count(*) as count'),
    counted(SHOW.measuring, 'count(*) as count'),
    database().query(
      `select (select count(*) from stem_sets where state = 'proposed') as sets,
              (select count(*) from likenesses l join settled x on x.sample_id = l.a join settled y on y.sample_id = l.b
                where l.state = 'open' and x.binned_at is null and y.binned_at is null) as pairs`,
    ),
  ]);
  const sum = (counts: (group: (typeof open)[number]) => boolean) =>
    open.reduce((all, group) => (counts(group) ? all + group.count : all), 0);
  return {
    all: sum(() => true) + saved.count,
    'needs a look': sum(({ doubts, faulty }) => doubts !== 0 || faulty),
    ...Object.fromEntries(
      NEED_SORTS.map((sort) => [sort, sum(({ doubts }) => (doubts & doubtBit(sort)) !== 0)]),
    ),
    sure: sum(({ doubts, faulty, standing }) => doubts === 0 && !faulty && standing === 'measured'),
    measuring: measuring.count,
    faulty: sum(({ faulty }) => faulty) + saved.faulty,
    'not saved': sum(() => true),
    saved: saved.count,
    bin: bin.count,
    'proposed stem sets': beside[0].sets,
    'alike pairs': beside[0].pairs,
  };
}

/** Saved samples that match. Values of one facet widen the choice, different facets narrow it. */
export async function shelfPage(query: ShelfQuery): Promise<SamplePage> {
  const words = await understood(query.text);
  const order = { column: SHELF_ORDERS[query.sort], direction: query.direction };
  return page(shelfChoice(query, words), order, query, words);
}

/** How many of what a query of the Shelf finds have each tag and kind; of very many an estimate. */
export async function shelfFacetCounts(query: ShelfQuery): Promise<ShelfFacets> {
  const choice = shelfChoice(query, await understood(query.text));
  const { rows: expected } = await estimate(choice);
  // Whole below twice the size of a part: then a part would hardly be less.
  const lots = expected <= 2 * FACET_ROWS ? 64 : Math.max(1, Math.floor((64 * FACET_ROWS) / expected));
  const where = [...choice.where, ...(lots < 64 ? [`s.lot < ${lots}`] : [])].join(' and ');
  const bits = FACET_BITS.map(
    (_, bit) => `count(*) filter (where s.facets & ${1n << BigInt(bit)} <> 0) as "${bit}"`,
  );
  const [facets, kinds, words] = await Promise.all([
    database().query(`select ${bits.join(', ')} from settled s where ${where}`, choice.values),
    database().query(
      `select s.kind, count(*) as count from settled s where ${where} and s.kind is not null group by 1 order by 1`,
      choice.values,
    ),
    database().query(
      `select w as value, count(*) as count from settled s, unnest(s.words) w where ${where}
        group by 1 order by 2 desc, 1 limit 200`,
      choice.values,
    ),
  ]);
  const whole = (count: number) => Math.round((count * 64) / lots);
  const counted = FACET_BITS.map((tag, bit) => {
    const at = tag.indexOf(':');
    return { facet: tag.slice(0, at), value: tag.slice(at + 1), count: whole(facets.rows[0][bit]) };
  });
  return {
    exact: lots === 64,
    facets: [
      ...counted.filter(({ count }) => count > 0),
      ...words.rows.map(({ value, count }) => ({ facet: 'word', value, count: whole(count) })),
    ],
    kinds: kinds.rows.map(({ kind, count }) => ({ kind, count: whole(count) })),
  };
}

function intakeChoice({ kind }: Pick<IntakeQuery, 'kind'>, words: Understood, show: string): Choice {
  const values: unknown[] = [];
  const where = [show];
  if (words.patterns.length) where.push(`s.search_text like all ($${values.push(words.patterns)})`);
  if (kind !== '') where.push(`s.kind = $${values.push(kind)}`);
  return { where, values };
}

function shelfChoice(query: ShelfQuery, words: Understood): Choice {
  const values: unknown[] = [];
  const bind = (value: unknown) => `$${values.push(value)}`;
  const where = ["s.standing = 'saved'", 's.binned_at is null'];
  if (words.patterns.length) where.push(`s.search_text like all (${bind(words.patterns)})`);
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
  if (query.kind !== null) where.push(`s.kind = ${bind(query.kind)}`);
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
async function page(
  choice: Choice,
  order: Order,
  { offset, limit }: { offset: number; limit: number },
  words: Understood,
): Promise<SamplePage> {
  const wantsTotal = offset === 0;
  const expected = await estimate(choice);
  const found =
    expected.rows <= FEW
      ? await pageOfFew(choice, order, offset, limit)
      : {
          total: wantsTotal
            ? await countMany(choice, words.patterns.length > 0 && expected.cost > DEAR)
            : null,
          ids: await pageOfMany(choice, order, offset, limit),
        };
  const more =
    found.total !== null &&
    expected.rows > FEW &&
    found.total > MOST_OF_MANY &&
    words.patterns.length > 0 &&
    expected.cost > DEAR;
  return {
    total: wantsTotal ? (more ? MOST_OF_MANY : found.total) : null,
    more,
    insteadOf: words.insteadOf,
    rows: await readSummaries(database(), found.ids),
  };
}

async function pageOfFew(
  { where, values }: Choice,
  { column, direction }: Order,
  offset: number,
  limit: number,
): Promise<{ total: number; ids: string[] }> {
  const way = direction === 'up' ? 'asc nulls last, sample_id' : 'desc nulls last, sample_id desc';
  const { rows } = await database().query(
    `with found as materialized (select s.sample_id, s.${column} as rank from settled s where ${where.join(' and ')})
     select (select count(*) from found) as total,
            array(select sample_id from found order by rank ${way} offset $${values.length + 1} limit $${values.length + 2}) as ids`,
    [...values, offset, limit],
  );
  return rows[0];
}

/** Counted to the end, or (`dear`) only so far that it is known to be more than the list shows. */
async function countMany({ where, values }: Choice, dear: boolean): Promise<number> {
  const found = `from settled s where ${where.join(' and ')}`;
  const { rows } = await database().query(
    dear
      ? `select count(*) as total from (select 1 ${found} limit ${MOST_OF_MANY + 1}) some`
      : `select count(*) as total ${found}`,
    values,
  );
  return rows[0].total;
}

/** Rows without a value come last either way: an index read backwards has them first, so they are asked for apart. */
async function pageOfMany(
  { where, values }: Choice,
  { column, direction }: Order,
  offset: number,
  limit: number,
): Promise<string[]> {
  const ask = async (condition: string, way: string, from: number, count: number) => {
    const { rows } = await database().query(
      `select s.sample_id as id from settled s where ${[...where, condition].join(' and ')}
        order by ${way} offset $${values.length + 1} limit $${values.length + 2}`,
      [...values, from, count],
    );
    return rows.map(({ id }) => id as string);
  };
  if (direction === 'up') return ask('true', `s.${column} asc nulls last, s.sample_id`, offset, limit);
  const withValue = await ask(`s.${column} is not null`, `s.${column} desc, s.sample_id desc`, offset, limit);
  if (withValue.length === limit) return withValue;
  const { rows } = await database().query(
    `select count(*) as count from settled s where ${where.join(' and ')} and s.${column} is not null`,
    values,
  );
  const passed = Math.max(0, offset - rows[0].count);
  const without = await ask(`s.${column} is null`, 's.sample_id', passed, limit - withValue.length);
  return [...withValue, ...without];
}
