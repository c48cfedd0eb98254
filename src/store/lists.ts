import type { Target } from '@/contract/orders';
import type { SamplePage } from '@/contract/shelfQuery';
import { database } from './database';
import { readSummaries } from './summaries';
import type { Understood } from './searchWords';

/** Conditions on `settled s`, with the values of their parameters. */
export interface Choice {
  where: string[];
  values: unknown[];
}

export interface Order {
  /** A column of `settled` with an index of its own. */
  column: string;
  direction: 'up' | 'down';
}

/** Which rows of a list are asked for; `of`: how many there are, where that is known. */
interface Page {
  offset: number;
  limit: number;
  of: number | null;
}

/** So many are found, put in order and counted whole; of more the order's index is gone along. */
export const FEW = 12_000;
/** Where words stand in very many rows the list ends here. */
const MOST_OF_MANY = 2_000;
/** Planner's cost above which rows with a word are not counted to the end. */
const DEAR = 6_000;
/** Columns that every row of their list has a value in. */
const NEVER_EMPTY = new Set(['arrived_at', 'sort_name', 'standing', 'urgency', 'saved_at']);

/** How many rows the planner expects, and what it thinks that counting them costs. */
export async function estimate({ where, values }: Choice): Promise<{ rows: number; cost: number }> {
  const { rows } = await database().query(
    `explain (format json) select 1 from settled s where ${where.join(' and ')}`,
    values,
  );
  const plan = rows[0]['QUERY PLAN'][0].Plan;
  return { rows: plan['Plan Rows'], cost: plan['Total Cost'] };
}

/** The numbers and revisions of what is chosen, in its order; no more than `most`. */
export async function targetsInOrder(
  { where, values }: Choice,
  { column, direction }: Order,
  most: number,
): Promise<Target[]> {
  const way = direction === 'up' ? 'asc nulls last' : 'desc nulls last';
  const { rows } = await database().query(
    `select s.sample_id as "sampleId", s.sequence as base from settled s where ${where.join(' and ')}
      order by s.${column} ${way}, s.sample_id ${direction === 'up' ? '' : 'desc'} limit ${most}`,
    values,
  );
  return rows;
}

/**
 * A page of what is chosen. Where few match they are found first and then put in order; where many do, their order's
 * index is gone along until the page is full. The planner, which would have to guess how they are spread along the
 * order, is not asked to choose between the two, only how many they are.
 */
export async function page(
  choice: Choice,
  order: Order,
  asked: Page,
  words: Understood,
): Promise<SamplePage> {
  const { offset, limit } = asked;
  const wantsTotal = offset === 0;
  const expected = await estimate(choice);
  const isDear = words.words.length > 0 && expected.cost > DEAR;
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
export async function countMany({ where, values }: Choice, dear: boolean): Promise<number> {
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
