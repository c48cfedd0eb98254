import { UNPITCHED_PARTS, type Target } from '@/core/fit/proposal';
import { strainsAt } from '@/core/fit/strainGroup';
import { ALL_KEYS } from '@/core/harmony/keyNames';
import type { ShelfQuery } from '@/core/library/shelfQuery';
import { FACET_BITS } from '@/core/tags/facetBits';
import { database } from './database';
import type { Choice } from './lists';

/** Bits of the tags whose samples are never shifted. */
const UNPITCHED = UNPITCHED_PARTS.reduce(
  (bits, part) => bits | (1n << BigInt(FACET_BITS.indexOf(`part:${part}`))),
  0n,
);

interface Group {
  group: number;
  isUnpitched: boolean;
  count: number;
}

/** How many of a choice are strained alike by every target: all of its groups. */
async function strainGroups({ where, values }: Choice): Promise<Group[]> {
  const { rows } = await database().query(
    `select string_agg(strain_group || ',' || unpitched || ',' || count, ';') as said from (
       select s.strain_group, (s.facets & ${UNPITCHED} <> 0)::int as unpitched, count(*) as count
         from settled s where ${where.join(' and ')} group by 1, 2) found`,
    values,
  );
  const said: string | null = rows[0].said;
  return (said?.split(';') ?? []).map((one) => {
    const [group, unpitched, count] = one.split(',').map(Number);
    return { group, isUnpitched: unpitched === 1, count };
  });
}

const targetOf = ({ targetTempo, targetKey, targetTape }: ShelfQuery): Target => ({
  tempoBpm: targetTempo,
  key: targetKey === null ? null : ALL_KEYS[targetKey],
  isTape: targetTape,
});

/**
 * A page by strain, with how many there are in all. No index knows the target; but what is chosen falls into some thousand groups that
 * are strained alike, which are counted, put in order, and read where the page lies.
 */
export async function byStrain(choice: Choice, query: ShelfQuery): Promise<[total: number, ids: string[]]> {
  const { offset, limit, direction } = query;
  const groups = await strainGroups(choice);
  const strainAt = strainsAt(targetOf(query));
  const sign = direction === 'up' ? 1 : -1;
  const ranked = groups
    .map((one) => ({ ...one, strain: strainAt(one.group, one.isUnpitched) }))
    .sort((a, b) => sign * (a.strain - b.strain || a.group - b.group || +a.isUnpitched - +b.isUnpitched));
  let total = 0;
  let skipped = 0;
  const wanted: Group[] = [];
  for (const one of ranked) {
    if (total + one.count > offset && total < offset + limit) {
      if (wanted.length === 0) skipped = offset - total;
      wanted.push(one);
    }
    total += one.count;
  }
  if (wanted.length === 0) return [total, []];
  const { where, values } = choice;
  const n = values.length;
  const { rows } = await database().query(
    `select found.sample_id as id from unnest($${n + 1}::integer[], $${n + 2}::boolean[]) with ordinality as w (strain_group, unpitched, place)
       cross join lateral (
         select s.sample_id from settled s where ${where.join(' and ')}
            and s.strain_group = w.strain_group and (s.facets & ${UNPITCHED} <> 0) = w.unpitched) found
      order by w.place, found.sample_id ${direction === 'up' ? '' : 'desc'} offset $${n + 3} limit $${n + 4}`,
    [
      ...values,
      wanted.map(({ group }) => group),
      wanted.map(({ isUnpitched }) => isUnpitched),
      skipped,
      limit,
    ],
  );
  return [total, rows.map(({ id }) => id)];
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
