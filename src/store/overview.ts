import { z } from 'zod';
import { STATUS_TIMES, TEMPO_BINS, tempoBin, TIME_STEPS, type ShelfOverview } from '@/contract/overview';
import type { ShelfQuery } from '@/contract/shelfQuery';
import { FACET_BITS } from '@/core/tags/facetBits';
import { database } from './database';
import type { Choice } from './lists';
import { fromRow } from './rows';
import { understood } from './searchWords';
import { countedPart, shelfChoice } from './shelfChoice';

/** What the samples of a choice are counted by. */
const MEASURES = ['tempi', 'keys', 'kinds', 'parts'] as const;
type Measure = (typeof MEASURES)[number];

/** The Shelf as a whole; of very many an estimate. What a query says of a measure itself does not narrow its counts. */
export async function readOverview(query: ShelfQuery): Promise<ShelfOverview> {
  const words = await understood(query.text);
  const without: Readonly<Record<Measure, Partial<ShelfQuery>>> = {
    tempi: { tempoFrom: null, tempoTo: null },
    keys: { keyTonic: null, keyMode: null },
    kinds: { kind: null },
    parts: { tags: query.tags.filter((tag) => !tag.startsWith('part:')) },
  };
  // Measures that the query says nothing of are counted in the same rows.
  const counting = new Map<string, Promise<Counted>>();
  const countsOf = (measure: Measure): Promise<Counted> => {
    const choice = shelfChoice({ ...query, ...without[measure] }, words);
    const name = JSON.stringify(choice);
    const counted = counting.get(name) ?? count(choice);
    counting.set(name, counted);
    return counted;
  };
  const [[tempi, keys, kinds, parts], time] = await Promise.all([
    Promise.all(MEASURES.map(countsOf)),
    countOverTime(),
  ]);
  return {
    tempi: tempiOf(tempi),
    keys: keysOf(keys),
    kinds: valuesOf(kinds, 'kinds'),
    parts: valuesOf(parts, 'parts'),
    time,
  };
}

interface Counted {
  exact: boolean;
  /** How many have which value of a measure; '' stands for none. */
  of: (measure: Measure, value: string | number) => number;
  values: (measure: Measure) => { value: string; count: number }[];
}

const countedRow = z.object({ measure: z.enum(MEASURES), value: z.string(), count: z.number() });
const PARTS = FACET_BITS.flatMap((tag, bit) => (tag.startsWith('part:') ? [{ tag, bit }] : []));
const [LOWEST] = tempoBin(0);
const [, HIGHEST] = tempoBin(TEMPO_BINS.count - 1);

/** Counts a choice by all measures, in one reading of its rows. */
async function count(choice: Choice): Promise<Counted> {
  const { where, exact, whole } = await countedPart(choice);
  const { rows } = await database().query(
    `with found as materialized (
       -- What is slower is bin 0, what is faster the one after the last.
       select width_bucket(ln(s.tempo_bpm), ${Math.log(LOWEST)}, ${Math.log(HIGHEST)}, ${TEMPO_BINS.count}) as bin,
              s.key_number as key, s.kind, s.facets from settled s where ${where})
     select 'tempi' as measure, coalesce(bin::text, '') as value, count(*) as count from found group by bin
     union all select 'keys', coalesce(key::text, ''), count(*) from found group by key
     union all select 'kinds', coalesce(kind, ''), count(*) from found group by kind
     union all select 'parts', part, count(*) from found
       join (values ${PARTS.map(({ tag, bit }) => `('${tag.slice('part:'.length)}', ${1n << BigInt(bit)})`).join(', ')}) p (part, bit) on facets & bit <> 0
       group by part`,
    choice.values,
  );
  const counted = fromRow(z.array(countedRow), rows, 'overview').map((row) => ({
    ...row,
    count: whole(row.count),
  }));
  return {
    exact,
    of: (measure, value) =>
      counted.find((row) => row.measure === measure && row.value === `${value}`)?.count ?? 0,
    values: (measure) => counted.filter((row) => row.measure === measure && row.value !== ''),
  };
}

const tempiOf = ({ exact, of }: Counted): ShelfOverview['tempi'] => ({
  exact,
  bins: Array.from({ length: TEMPO_BINS.count }, (_, i) => of('tempi', i + 1)),
  slower: of('tempi', 0),
  faster: of('tempi', TEMPO_BINS.count + 1),
  without: of('tempi', ''),
});

const keysOf = ({ exact, of }: Counted): ShelfOverview['keys'] => ({
  exact,
  counts: Array.from({ length: 24 }, (_, key) => of('keys', key)),
  without: of('keys', ''),
});

const valuesOf = ({ exact, values }: Counted, measure: 'kinds' | 'parts'): ShelfOverview['kinds'] => ({
  exact,
  values: values(measure)
    .map(({ value, count: found }) => ({ value, count: found }))
    .sort((a, b) => b.count - a.count),
});

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
