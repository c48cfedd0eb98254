import type pg from 'pg';
import { z } from 'zod';
import type { NumberedReading } from '@/library/change/changeSet';
import { storedReading, type StoredReading } from '@/contract/entry';
import type { Reading, Source } from '@/core/readings/reading';
import type { Queryable } from './database';
import { fromRow } from './rows';

const VERSION = 1;

/** Readings of the samples `ids` (an SQL expression) as a JSON array, oldest first. */
export const readingsJson = (ids: string) => `(select coalesce(jsonb_agg(jsonb_build_object(
    'sampleId', sample_id, 'readingId', reading_id, 'property', property, 'source', source, 'value', value, 'sureness', sureness,
    'detail', detail, 'rank', rank, 'readAt', read_at, 'superseded', superseded_at is not null) order by place), '[]')
  from readings where sample_id = any(${ids}))`;

const readingJson = storedReading.and(z.object({ sampleId: z.uuid() }));

/** Readings out of `readingsJson`, by sample. */
export function readingsBySample(json: unknown): Map<string, StoredReading[]> {
  const bySample = new Map<string, StoredReading[]>();
  for (const { sampleId, ...reading } of fromRow(z.array(readingJson), json, 'reading')) {
    const mine = bySample.get(sampleId) ?? [];
    mine.push({ ...reading, readAt: new Date(reading.readAt).toISOString() } as StoredReading);
    bySample.set(sampleId, mine);
  }
  return bySample;
}

/** Marks readings of sources as replaced by later ones (they stay for the record), and adds others. */
export async function writeReadings(
  client: pg.PoolClient,
  superseded: readonly { sampleId: string; source: Source }[],
  added: readonly NumberedReading[],
): Promise<void> {
  if (superseded.length + added.length === 0) return;
  await client.query(
    `with replaced as (
       update readings r set superseded_at = now()
         from jsonb_to_recordset($1) as s ("sampleId" uuid, source text)
        where r.sample_id = s."sampleId" and r.source = s.source and r.superseded_at is null)
     insert into readings (reading_id, sample_id, property, source, value, sureness, detail, rank, version)
     select "readingId", "sampleId", property, source, value, sureness, detail, rank, ${VERSION}
       from rows from (jsonb_to_recordset($2) as ("readingId" uuid, "sampleId" uuid, property text, source text, value jsonb,
                       sureness real, detail text, rank integer)) with ordinality order by ordinality`,
    [JSON.stringify(superseded), JSON.stringify(added)],
  );
}

/** Adds what the name of a file says, with the sample that it becomes. */
export async function insertFirstReadings(
  on: Queryable,
  sampleId: string,
  readings: readonly Reading[],
): Promise<void> {
  if (readings.length === 0) return;
  await on.query(
    `insert into readings (sample_id, property, source, value, sureness, detail, rank, version)
     select $1, property, source, value, sureness, detail, row_number() over (partition by property order by ordinality) - 1, ${VERSION}
       from rows from (jsonb_to_recordset($2) as (property text, source text, value jsonb, sureness real, detail text))
            with ordinality order by ordinality`,
    [sampleId, JSON.stringify(readings)],
  );
}
