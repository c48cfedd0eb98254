import type { ShelfQuery } from '@/core/library/shelfQuery';
import { database } from './database';
import { nearTarget, strainOfRows } from './strain';

/** Conditions on `settled s`, with the values of their parameters. */
export interface Choice {
  where: string[];
  values: unknown[];
}

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

/** A page by likeness, along the index of places; the sample itself comes first where it is among those. */
export async function likest(
  { where, values }: Choice,
  { like, likeBy, offset, limit }: ShelfQuery,
): Promise<string[]> {
  const column = `like_${likeBy}`;
  const { rows: found } = await database().query(
    `select ${column}::text as place from settled where sample_id = $1`,
    [like],
  );
  const place: string | null = found[0]?.place ?? null;
  if (place === null) return [];
  const { rows } = await database().query(
    `select s.sample_id as id from settled s where ${where.join(' and ')} and s.${column} is not null
      order by s.${column} <-> $${values.length + 1}::cube offset $${values.length + 2} limit $${values.length + 3}`,
    [...values, place, offset, limit],
  );
  return rows.map(({ id }) => id);
}
