import type { ShelfQuery } from '@/core/library/shelfQuery';
import { database } from './database';
import type { Choice } from './lists';
import { nearTarget, strainOfRows } from './strain';

/** Strains within which the first rows are looked for, before all are. */
const STRAINS = [0.12, 0.4, Infinity];

/** A page by strain. No index knows it: what is near the target is put in order, as far as that holds enough of it. */
export async function leastStrained({ where, values }: Choice, query: ShelfQuery): Promise<string[]> {
  const { offset, limit, direction } = query;
  const isUp = direction === 'up';
  const { tables, strain } = strainOfRows(query);
  for (const most of isUp ? STRAINS : [Infinity]) {
    const near = most < Infinity ? nearTarget(query, most) : [];
    const { rows } = await database().query(
      `select id, rank from (
         select s.sample_id as id, (${strain})::real as rank from settled s ${tables} where ${[...where, ...near].join(' and ')}) found
        order by rank ${isUp ? 'asc' : 'desc'}, id ${isUp ? '' : 'desc'} offset $${values.length + 1} limit $${values.length + 2}`,
      [...values, offset, limit],
    );
    const last = rows[rows.length - 1];
    if (most === Infinity || (rows.length === limit && last.rank <= most)) return rows.map(({ id }) => id);
  }
  return [];
}

/** Where a sample lies among others, as the store has it; null where that is not known. */
async function cubeOf({ like, likeBy }: ShelfQuery): Promise<string | null> {
  const { rows } = await database().query(
    `select like_${likeBy}::text as cube from settled where sample_id = $1`,
    [like],
  );
  return rows[0]?.cube ?? null;
}

/**
 * A page by likeness, along its index, with how many there are in all: the sample itself comes first where it is among them, also
 * before its equals; what has no features, or anything beside a sample that has none, is not listed.
 */
export async function likest(choice: Choice, query: ShelfQuery): Promise<[total: number, ids: string[]]> {
  const cube = await cubeOf(query);
  if (cube === null) return [0, []];
  const { offset, limit, like, likeBy } = query;
  const values = [...choice.values, like];
  const itself = `s.sample_id = $${values.length}`;
  const found = `from settled s where ${choice.where.join(' and ')} and s.like_${likeBy} is not null`;
  // The others begin one earlier where the sample itself stands before them: which of both it is, the count tells.
  const skipped = Math.max(0, offset - 1);
  const [{ rows: counted }, { rows }] = await Promise.all([
    database().query(
      `select count(*) as total, coalesce(bool_or(${itself}), false) as among ${found}`,
      values,
    ),
    database().query(
      `select s.sample_id as id ${found} and not ${itself}
        order by s.like_${likeBy} <-> $${values.length + 1}::cube offset $${values.length + 2} limit $${values.length + 3}`,
      [...values, cube, skipped, limit + 1],
    ),
  ]);
  const [{ total, among }] = counted;
  const others = rows.map(({ id }): string => id);
  const page = among && offset === 0 ? [like!, ...others] : others.slice(among ? 0 : offset - skipped);
  return [total, page.slice(0, limit)];
}
