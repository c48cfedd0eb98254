import type { Target } from '@/core/timeStretch/proposal';
import { groupsWithin, strainsAt, type StrainRange } from '@/core/timeStretch/strainGroup';
import { ALL_KEYS } from '@/core/harmony/keyNames';
import type { ShelfQuery } from '@/contract/shelfQuery';
import { database } from './database';
import { countMany, estimate, FEW, type Choice } from './lists';

const targetOf = ({ targetTempo, targetKey, targetTape }: ShelfQuery): Target => ({
  tempoBpm: targetTempo,
  key: targetKey === null ? null : ALL_KEYS[targetKey],
  isTape: targetTape,
});

/** Strains within which the first rows are looked for, as long as there are not too many groups of them. */
const STRAINS = [0.005, 0.02, 0.06];
const MOST_GROUPS = 2_500;
/** So many rows from the first on are looked for so. */
const FIRST = 2_000;
/** More than there are groups. */
const PLACES = 2 ** 20;

/**
 * A page by strain, with how many there are in all. No index knows the target; but samples that every target strains alike are of one
 * group, which has one. The first rows are found in the groups that are near the target; for others all groups are counted.
 */
export async function byStrain(choice: Choice, query: ShelfQuery): Promise<[total: number, ids: string[]]> {
  const { offset, limit, direction } = query;
  const target = targetOf(query);
  if (direction === 'up' && offset + limit <= FIRST && (await estimate(choice)).rows > FEW) {
    const [total, ids] = await Promise.all([
      offset === 0 ? countMany(choice, false) : 0,
      nearest(choice, target, offset, limit),
    ]);
    if (ids) return [total, ids];
  }
  return amongAll(choice, target, direction, offset, limit);
}

/** Rows that are strained least, found among the groups near a target; null where there are not enough of them. */
async function nearest(
  choice: Choice,
  target: Target,
  offset: number,
  limit: number,
): Promise<string[] | null> {
  for (const most of STRAINS) {
    const near = groupsWithin(target, most);
    if (near.length > MOST_GROUPS) return null;
    const ids = await inRanges(choice, near, 'up', offset, limit);
    if (ids.length === limit) return ids;
  }
  return null;
}

async function amongAll(
  choice: Choice,
  target: Target,
  direction: 'up' | 'down',
  offset: number,
  limit: number,
): Promise<[total: number, ids: string[]]> {
  const counts = await countGroups(choice);
  const strainAt = strainsAt(target);
  // Numbers alone are sorted fastest: the strain to a millionth, and behind it the place among the groups.
  const sign = direction === 'up' ? 1 : -1;
  const order = Float64Array.from(
    counts,
    ([group], i) => sign * (Math.round(strainAt(group) * 1e6) * PLACES + i),
  ).sort();
  let total = 0;
  let skipped = 0;
  const ranges: Omit<StrainRange, 'strain'>[] = [];
  for (const key of order) {
    const [from, count] = counts[Math.abs(key) % PLACES];
    if (total + count > offset && total < offset + limit) {
      if (ranges.length === 0) skipped = offset - total;
      ranges.push({ from, to: from + 1 });
    }
    total += count;
  }
  return [total, await inRanges(choice, ranges, direction, skipped, limit)];
}

/** How many of a choice are of which group. */
async function countGroups({ where, values }: Choice): Promise<[group: number, count: number][]> {
  const { rows } = await database().query<{ groups: string; counts: string }>(
    `select coalesce(string_agg(strain_group::text, ','), '') as groups, coalesce(string_agg(count::text, ','), '') as counts from (
       select s.strain_group, count(*) as count from settled s where ${where.join(' and ')} group by 1 order by 1) found`,
    values,
  );
  const [{ groups, counts }] = rows;
  if (groups === '') return [];
  const each = counts.split(',');
  return groups.split(',').map((group, i) => [Number(group), Number(each[i])]);
}

/** Samples of a choice in ranges of groups, range after range. */
async function inRanges(
  { where, values }: Choice,
  ranges: readonly Omit<StrainRange, 'strain'>[],
  direction: 'up' | 'down',
  offset: number,
  limit: number,
): Promise<string[]> {
  const n = values.length;
  const way = direction === 'up' ? '' : 'desc';
  const { rows } = await database().query(
    `select found.sample_id as id from unnest($${n + 1}::integer[], $${n + 2}::integer[]) with ordinality as w (lowest, beyond, place)
       cross join lateral (
         select s.strain_group, s.sample_id from settled s
          where s.strain_group >= w.lowest and s.strain_group < w.beyond and ${where.join(' and ')}
          order by s.strain_group ${way}, s.sample_id ${way} limit $${n + 3}) found
      order by w.place, found.strain_group ${way}, found.sample_id ${way} offset $${n + 4} limit $${n + 5}`,
    [...values, ranges.map(({ from }) => from), ranges.map(({ to }) => to), offset + limit, offset, limit],
  );
  return rows.map(({ id }) => id);
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
 * A page by similarity, along its index, with how many there are in all: the sample itself comes first where it is among them, also
 * before its equals, which follow each other by their numbers (the index alone gives them in no order: pages of other sizes would
 * not agree); what has no features, or anything beside a sample that has none, is not listed.
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
      // Equals are put in order outside: with their numbers in the inner order, the index would not be gone along.
      `select id from (
         select s.sample_id as id, s.like_${likeBy} <-> $${values.length + 1}::cube as distance ${found} and not ${itself}
          order by s.like_${likeBy} <-> $${values.length + 1}::cube fetch first $${values.length + 2} rows with ties) near
        order by distance, id offset $${values.length + 3} limit $${values.length + 4}`,
      [...values, cube, skipped + limit + 1, skipped, limit + 1],
    ),
  ]);
  const [{ total, among }] = counted;
  const others = rows.map(({ id }): string => id);
  const page = among && offset === 0 ? [like!, ...others] : others.slice(among ? 0 : offset - skipped);
  return [total, page.slice(0, limit)];
}
