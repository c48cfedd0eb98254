import type pg from 'pg';
import { z } from 'zod';
import { searchTextOf } from '@/library/samples/listRow';
import { STATUSES } from '@/contract/entry';
import { ENGINE } from '@/core/measurement/engine';
import type { Measurement } from '@/core/measurement/schema';
import type { AnnouncedFile, WhereHere } from '@/contract/arrivals';
import { database, type Queryable } from './database';
import { fromRow } from './rows';

/** The version of the shape in which measurements are kept. */
export const MEASUREMENT_VERSION = 1;

export interface NewSample {
  originalId: number;
  name: string;
  folder: string;
  /** When the file was last changed where it came from, ms since 1970. */
  modifiedMs: number | null;
  /** The sample that it was made from. */
  parent?: string;
}

/** Adds a sample that has just arrived, with the row that lists have of it. */
export async function insertSample(
  on: Queryable,
  { originalId, name, folder, modifiedMs, parent }: NewSample,
): Promise<string> {
  const { rows } = await on.query(
    `with made as (
       insert into samples (original_id, name, folder, modified_ms) values ($1, $2, $3, $4) returning sample_id, arrived_at)
     insert into settled (sample_id, arrived_at, name, search_text, lot, parent)
     select sample_id, arrived_at, $2, $5, abs(hashtext(sample_id::text)) % 64, $6 from made returning sample_id`,
    [originalId, name, folder, modifiedMs, searchTextOf([name, folder]), parent ?? null],
  );
  return rows[0].sample_id;
}

/** A sample that has the bytes of an original already. */
export interface Sibling {
  sampleId: string;
  name: string;
  folder: string;
  binned: boolean;
  mergedInto: string | null;
}

/** Samples that share an original, oldest first, those in the bin last. */
export async function samplesOfOriginal(on: Queryable, originalId: number): Promise<Sibling[]> {
  // Who asks in a transaction is about to add one: of two that ask at once the second waits to see what the first added.
  await on.query(`select from originals where original_id = $1 for no key update`, [originalId]);
  const { rows } = await on.query(
    `select sample_id as "sampleId", x.name, x.folder, s.binned_at is not null as binned, x.merged_into as "mergedInto"
       from samples x join settled s using (sample_id) where original_id = $1
      order by s.binned_at is not null, x.arrived_at, sample_id`,
    [originalId],
  );
  return rows;
}

/** Where each of the files is here already, by folder, name, length and time of the last change; null: nowhere. */
export async function filesHere(
  files: readonly AnnouncedFile[],
): Promise<({ where: WhereHere; sampleId: string } | null)[]> {
  const { rows } = await database().query(
    `select f.place, bool_and(s.binned_at is not null) as binned,
            (array_agg(x.sample_id order by s.binned_at is not null, x.arrived_at))[1] as "sampleId"
       from jsonb_to_recordset($1) as f (place integer, name text, folder text, "byteLength" bigint, "modifiedMs" bigint)
       join samples x on x.folder = f.folder and x.name = f.name and x.modified_ms = f."modifiedMs"
       join originals o on o.original_id = x.original_id and o.byte_length = f."byteLength"
       join settled s using (sample_id)
      group by f.place`,
    [JSON.stringify(files.map((file, place) => ({ ...file, place })))],
  );
  const here = new Map<number, { where: WhereHere; sampleId: string }>(
    rows.map(({ place, binned, sampleId }) => [place, { where: binned ? 'bin' : 'library', sampleId }]),
  );
  return files.map((_, place) => here.get(place) ?? null);
}

const sampleFile = z.object({
  originalId: z.number(),
  /** The listening copy, for formats that browsers do not decode here. */
  listeningId: z.number().nullable(),
  listeningBytes: z.number().nullable(),
  /** The name that it goes by. */
  name: z.string(),
  arrivedAs: z.string(),
  folder: z.string(),
  standing: z.enum(STATUSES),
  byteLength: z.number(),
  sha256: z.string(),
  format: z.string().nullable(),
});
export type SampleFile = z.infer<typeof sampleFile>;

/** Where the bytes of a sample are, and what they are called; null for an unknown one. */
export async function readSampleFile(on: Queryable, sampleId: string): Promise<SampleFile | null> {
  const { rows } = await on.query(
    `select x.original_id as "originalId", x.listening_id as "listeningId",
            (select l.byte_length from originals l where l.original_id = x.listening_id) as "listeningBytes",
            s.name, x.name as "arrivedAs", x.folder, s.standing, o.byte_length as "byteLength", o.sha256, x.format
       from samples x join settled s using (sample_id) join originals o using (original_id) where x.sample_id = $1`,
    [sampleId],
  );
  return rows.length ? fromRow(sampleFile, rows[0], 'sample') : null;
}

export interface MeasuredFacts {
  kind: string;
  format: string;
  durationSeconds: number;
  sampleRate: number | null;
  channels: number | null;
  warnings: string[];
  thumbnail: Int8Array;
  measurement: Measurement;
  audioSha256: string | null;
  listeningId: number | null;
}

/** Writes what measuring found of the file. */
export async function recordMeasured(
  client: pg.PoolClient,
  sampleId: string,
  facts: MeasuredFacts,
): Promise<void> {
  await client.query(
    `update samples set kind = $2, format = $3, duration_seconds = $4, sample_rate = $5, channels = $6, warnings = $7,
            thumbnail = $8, measurement = $9, measurement_version = ${MEASUREMENT_VERSION}, audio_sha256 = $10, listening_id = $11,
            engine = ${ENGINE.version}, fault = null, measured_at = now()
      where sample_id = $1`,
    [
      sampleId,
      facts.kind,
      facts.format,
      facts.durationSeconds,
      facts.sampleRate,
      facts.channels,
      facts.warnings,
      Buffer.from(facts.thumbnail.buffer, facts.thumbnail.byteOffset, facts.thumbnail.byteLength),
      facts.measurement,
      facts.audioSha256,
      facts.listeningId,
    ],
  );
}

/** Remembers that today's engine has listened to a sample. */
export async function recordCompared(on: Queryable, sampleId: string): Promise<void> {
  await on.query(`update samples set engine = ${ENGINE.version} where sample_id = $1`, [sampleId]);
}

/** What was measured of some samples' tempi; those that have none are left out. */
export async function readMeasuredTempi(
  sampleIds: readonly string[],
): Promise<{ bpm: number; sureness: number }[]> {
  const { rows } = await database().query(
    `select (measurement->'tempo'->>'bpm')::double precision as bpm, (measurement->'tempo'->>'sureness')::double precision as sureness
       from samples where sample_id = any($1) and measurement->'tempo'->>'bpm' is not null`,
    [sampleIds],
  );
  return rows;
}

/** Adds a warning to those of a sample's decoding. */
export async function addWarning(on: Queryable, sampleId: string, words: string): Promise<void> {
  await on.query('update samples set warnings = warnings || $2::text where sample_id = $1', [
    sampleId,
    words,
  ]);
}

/** Writes the hash of a sample's decoded audio, by which the same audio is known again. */
export async function recordAudioHash(
  on: Queryable,
  sampleId: string,
  audioSha256: string | null,
): Promise<void> {
  await on.query('update samples set audio_sha256 = $2 where sample_id = $1', [sampleId, audioSha256]);
}

/** Why the file cannot be decoded, in a sentence; the file stays. */
export async function recordFault(client: pg.PoolClient, sampleId: string, fault: string): Promise<void> {
  await client.query('update samples set fault = $2 where sample_id = $1', [sampleId, fault]);
}

/** Puts samples away as merged into others, or (null) brings them back. */
export async function writeMerged(
  client: pg.PoolClient,
  merged: readonly { sampleId: string; into: string | null }[],
): Promise<void> {
  if (merged.length === 0) return;
  await client.query(
    `update samples x set merged_into = m."into" from jsonb_to_recordset($1) as m ("sampleId" uuid, "into" uuid)
      where x.sample_id = m."sampleId"`,
    [JSON.stringify(merged)],
  );
}
