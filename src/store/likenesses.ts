import { z } from 'zod';
import { likeness, type Likeness } from '@/contract/likenesses';
import { database, type Queryable } from './database';
import { fromRow } from './rows';

export type Relation = Likeness['relation'];

/** Keeps the acoustic print of a sample and the words by which like ones are looked for. */
export async function writePrint(
  on: Queryable,
  sampleId: string,
  words: Uint32Array,
  chosen: Uint32Array,
): Promise<void> {
  await on.query(
    `insert into prints (sample_id, words) values ($1, $2) on conflict (sample_id) do update set words = excluded.words`,
    [sampleId, Buffer.from(words.buffer, words.byteOffset, words.byteLength)],
  );
  await on.query('delete from print_words where sample_id = $1', [sampleId]);
  await on.query('insert into print_words (word, sample_id) select unnest($1::integer[]), $2', [
    // The column is signed.
    Array.from(chosen, (word) => word | 0),
    sampleId,
  ]);
}

/** Samples that have at least `least` chosen words in common with these, those with the most first, with their prints. */
export async function samplesWithWords(
  on: Queryable,
  sampleId: string,
  chosen: Uint32Array,
  least: number,
  most: number,
): Promise<{ sampleId: string; words: Uint32Array }[]> {
  const { rows } = await on.query(
    `select p.sample_id as id, p.words from (
       select w.sample_id, count(*) as hits from print_words w
        where w.word = any($1::integer[]) and w.sample_id <> $2 group by w.sample_id having count(*) >= $3
        order by hits desc limit $4) f
      join prints p using (sample_id) join settled s using (sample_id) where s.binned_at is null order by f.hits desc`,
    [Array.from(chosen, (word) => word | 0), sampleId, least, most],
  );
  return rows.map(({ id, words }) => ({
    sampleId: id,
    words: new Uint32Array(Uint8Array.from(words as Buffer).buffer),
  }));
}

/** Samples of the same bytes, or of the same decoded audio, oldest first; the bin is left out. */
export async function identicalSamples(
  on: Queryable,
  sampleId: string,
): Promise<{ sampleId: string; relation: Relation; earlier: boolean }[]> {
  const { rows } = await on.query(
    `select o.sample_id as "sampleId", case when o.original_id = s.original_id then 'same bytes' else 'same audio' end as relation,
            (o.arrived_at, o.sample_id) < (s.arrived_at, s.sample_id) as earlier
       from samples s join samples o on o.sample_id <> s.sample_id
        and (o.original_id = s.original_id or o.audio_sha256 = s.audio_sha256)
       join settled l on l.sample_id = o.sample_id and l.binned_at is null
      where s.sample_id = $1 order by o.arrived_at, o.sample_id`,
    [sampleId],
  );
  return rows;
}

/** Whether the first sample arrived before the second. */
export async function arrivedBefore(on: Queryable, first: string, second: string): Promise<boolean> {
  const { rows } = await on.query(
    `select (a.arrived_at, a.sample_id) < (b.arrived_at, b.sample_id) as before
       from samples a, samples b where a.sample_id = $1 and b.sample_id = $2`,
    [first, second],
  );
  return rows[0]?.before ?? true;
}

/** Records that two samples are alike; what was decided about the pair before stays. */
export async function addLikeness(
  on: Queryable,
  { a, b, relation, offsetSeconds, difference }: Likeness,
): Promise<void> {
  await on.query(
    `insert into likenesses (a, b, relation, offset_seconds, difference) select $1, $2, $3, $4, $5
      where not exists (select from likenesses where a = $2 and b = $1)
     on conflict (a, b) do update set relation = excluded.relation, offset_seconds = excluded.offset_seconds,
       difference = excluded.difference`,
    [a, b, relation, offsetSeconds, difference],
  );
}

/** All undecided pairs of samples that are alike, the newest first. */
export async function openPairs(limit: number): Promise<Likeness[]> {
  const { rows } = await database().query(
    `select l.a, l.b, l.relation, l.offset_seconds as "offsetSeconds", l.difference
       from likenesses l join settled x on x.sample_id = l.a join settled y on y.sample_id = l.b
      where l.state = 'open' and x.binned_at is null and y.binned_at is null
      order by l.found_at desc, l.a, l.b limit $1`,
    [limit],
  );
  return fromRow(z.array(likeness), rows, 'likeness');
}

/** Decides about a pair; returns whether it was open (or decided, when it is opened again). */
export async function decidePair(
  on: Queryable,
  a: string,
  b: string,
  state: 'open' | 'kept apart' | 'merged',
): Promise<boolean> {
  const { rowCount } = await on.query(
    'update likenesses set state = $3 where a = $1 and b = $2 and state <> $3',
    [a, b, state],
  );
  return rowCount === 1;
}
