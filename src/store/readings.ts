import { storedReading, type StoredReading } from '@/core/library/entry';
import type { Reading, Source } from '@/core/readings/reading';
import type { Queryable } from './database';

/** Adds readings of one source in their order of preference for each property; returns them with their numbers. */
export async function addReadings(
  on: Queryable,
  sampleId: string,
  readings: readonly Reading[],
): Promise<StoredReading[]> {
  if (readings.length === 0) return [];
  const ranks = new Map<string, number>();
  const ranked = readings.map(({ property, value, source, sureness, detail }, place) => {
    const rank = ranks.get(property) ?? 0;
    ranks.set(property, rank + 1);
    return { place, property, value, source, sureness, detail, rank };
  });
  const { rows } = await on.query(
    `insert into readings (sample_id, property, source, value, sureness, detail, rank)
     select $1, property, source, value, sureness, detail, rank
       from jsonb_to_recordset($2) as given (place integer, property text, source text, value jsonb, sureness real, detail text, rank integer)
      order by place
     returning ${COLUMNS}`,
    [sampleId, JSON.stringify(ranked)],
  );
  return rows.map((row) => storedReading.parse(row));
}

/** Marks a source's readings as replaced by later ones; they stay for the record. */
export async function supersedeReadings(
  on: Queryable,
  sampleId: string,
  sources: readonly Source[],
): Promise<void> {
  await on.query(
    'update readings set superseded_at = now() where sample_id = $1 and source = any($2) and superseded_at is null',
    [sampleId, sources],
  );
}

/** Gives one sample's present readings to another as well, with a word about where they come from. */
export async function copyReadings(on: Queryable, from: string, to: string, words: string): Promise<void> {
  await on.query(
    `insert into readings (sample_id, property, source, value, sureness, detail, rank)
     select $2, property, source, value, sureness, concat_ws(', ', nullif(detail, ''), $3::text), rank + 1
       from readings r where sample_id = $1 and superseded_at is null and source not in ('detector', 'stem set')
        and not exists (select from readings k where k.sample_id = $2 and k.property = r.property and k.source = r.source and k.value = r.value)`,
    [from, to, words],
  );
}

/** All readings of a sample, oldest first. */
export async function readingsOf(on: Queryable, sampleId: string): Promise<StoredReading[]> {
  const { rows } = await on.query(
    `select ${COLUMNS} from readings where sample_id = $1 order by reading_id`,
    [sampleId],
  );
  return rows.map((row) => storedReading.parse(row));
}

const COLUMNS = `reading_id as "readingId", property, source, value, sureness, detail, rank,
  read_at as "readAt", superseded_at is not null as superseded`;
