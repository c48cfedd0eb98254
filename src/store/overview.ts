import { z } from 'zod';
import { STATUS_TIMES, TEMPO_BINS, tempoBin, TIME_STEPS, type ShelfOverview } from '@/contract/overview';
import type { ShelfQuery } from '@/contract/shelfQuery';
import { FACET_BITS } from '@/core/tags/facetBits';
import { database } from './database';
import { fromRow } from './rows';
import { understood, type Understood } from './searchWords';
import { countedPart, shelfChoice } from './shelfChoice';

/** The Shelf as a whole; of very many an estimate. What a query says of a measure itself does not narrow its counts. */
export async function readOverview(query: ShelfQuery): Promise<ShelfOverview> {
  const words = await understood(query.text);
  const [tempi, keys, kinds, parts, time] = await Promise.all([
    countTempi({ ...query, tempoFrom: null, tempoTo: null }, words),
    countKeys({ ...query, keyTonic: null, keyMode: null }, words),
    countKinds({ ...query, kind: null }, words),
    countParts({ ...query, tags: query.tags.filter((tag) => !tag.startsWith('part:')) }, words),
    countOverTime(),
  ]);
  return { tempi, keys, kinds, parts, time };
}

/** How many there are of each place; `whole` raises what was counted in a part. */
async function countBy(
  query: ShelfQuery,
  words: Understood,
  place: string,
): Promise<{ exact: boolean; counts: Map<number | string | null, number> }> {
  const choice = shelfChoice(query, words);
  const { where, exact, whole } = await countedPart(choice);
  const { rows } = await database().query(
    `select ${place} as place, count(*) as count from settled s where ${where} group by 1`,
    choice.values,
  );
  return { exact, counts: new Map(rows.map(({ place: at, count }) => [at, whole(count)])) };
}

const [LOWEST] = tempoBin(0);
const [, HIGHEST] = tempoBin(TEMPO_BINS.count - 1);

async function countTempi(query: ShelfQuery, words: Understood): Promise<ShelfOverview['tempi']> {
  // What lies below is bin 0, what lies above the one after the last.
  const bin = `width_bucket(ln(s.tempo_bpm), ${Math.log(LOWEST)}, ${Math.log(HIGHEST)}, ${TEMPO_BINS.count})`;
  const { exact, counts } = await countBy(query, words, bin);
  const of = (at: number | null) => counts.get(at) ?? 0;
  return {
    exact,
    bins: Array.from({ length: TEMPO_BINS.count }, (_, i) => of(i + 1)),
    slower: of(0),
    faster: of(TEMPO_BINS.count + 1),
    without: of(null),
  };
}

async function countKeys(query: ShelfQuery, words: Understood): Promise<ShelfOverview['keys']> {
  const { exact, counts } = await countBy(query, words, 's.key_number');
  return {
    exact,
    counts: Array.from({ length: 24 }, (_, key) => counts.get(key) ?? 0),
    without: counts.get(null) ?? 0,
  };
}

async function countKinds(query: ShelfQuery, words: Understood): Promise<ShelfOverview['kinds']> {
  const { exact, counts } = await countBy(query, words, 's.kind');
  const values = [...counts].flatMap(([value, count]) =>
    value === null ? [] : [{ value: `${value}`, count }],
  );
  return { exact, values: values.sort((a, b) => b.count - a.count) };
}

const PARTS = FACET_BITS.flatMap((tag, bit) => (tag.startsWith('part:') ? [{ tag, bit }] : []));

async function countParts(query: ShelfQuery, words: Understood): Promise<ShelfOverview['parts']> {
  const choice = shelfChoice(query, words);
  const { where, exact, whole } = await countedPart(choice);
  const each = PARTS.map(({ bit }) => `count(*) filter (where s.facets & ${1n << BigInt(bit)} <> 0)`);
  const { rows } = await database().query(
    `select array[${each.join(', ')}]::integer[] as counts from settled s where ${where}`,
    choice.values,
  );
  const [{ counts }] = rows as { counts: number[] }[];
  const values = PARTS.map(({ tag }, i) => ({ value: tag.slice('part:'.length), count: whole(counts[i]) }));
  return { exact, values: values.filter(({ count }) => count > 0).sort((a, b) => b.count - a.count) };
}

const timesRow = z.object({
  from: z.string(),
  to: z.string(),
  counts: z.array(z.object({ status: z.enum(STATUS_TIMES), step: z.number(), count: z.number() })),
});

/** How many had arrived, been measured, proved and saved after each step from the first arrival until now. */
async function countOverTime(): Promise<ShelfOverview['time']> {
  const { where, exact, whole } = await countedPart({ where: ['s.binned_at is null'], values: [] });
  const { rows } = await database().query(
    `with span as materialized (
       select coalesce((select arrived_at from settled where binned_at is null order by arrived_at limit 1), now()) as since, now() as until),
     part as materialized (select s.sample_id, s.arrived_at, s.saved_at from settled s where ${where}),
     times as (
       select 'arrived' as status, arrived_at as at from part
       union all select 'measured', r.made_at from part join revisions r on r.sample_id = part.sample_id and r.sequence = 1
       union all select 'proved', (select min(p.signed_at) from proofs p where p.sample_id = part.sample_id and p.verdict = 'on') from part
       union all select 'saved', saved_at from part),
     counted as (
       select status, least(${TIME_STEPS}, greatest(1, width_bucket(extract(epoch from at), extract(epoch from since) - 1, extract(epoch from until) + 1, ${TIME_STEPS}))) as step,
              count(*) as count
         from times cross join span where at is not null group by 1, 2)
     select since as "from", until as "to", (select coalesce(json_agg(counted), '[]') from counted) as counts from span`,
  );
  const { from, to, counts } = fromRow(timesRow, rows[0], 'samples over time');
  const upTo = (wanted: string) => {
    let sum = 0;
    return Array.from({ length: TIME_STEPS }, (_, i) => {
      for (const { status, step, count } of counts) if (status === wanted && step === i + 1) sum += count;
      return whole(sum);
    });
  };
  const [arrived, measured, proved, saved] = STATUS_TIMES.map(upTo);
  return {
    exact,
    from,
    to,
    counts: { arrived, measured, proved, saved },
  };
}
