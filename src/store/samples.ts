import type pg from 'pg';
import { z } from 'zod';
import { sampleSummary, type SampleSummary } from '@/core/library/entry';
import type { IntakePage, IntakeQuery } from '@/core/library/shelfQuery';
import { measurement, type Measurement } from '@/core/measurement/schema';
import { database, type Queryable } from './database';
import { queueCounts } from './jobs';

/** The columns of a summary; `s` is samples, `r` the current revision, `o` the original, `j` the open or failed job. */
export const SUMMARY_COLUMNS = `
  s.sample_id as "sampleId", s.name, s.folder, s.kind, s.standing, s.needs_look as "needsLook", s.format,
  s.duration_seconds as "durationSeconds", s.sample_rate as "sampleRate", s.channels,
  o.byte_length as "byteLength", o.sha256, s.fault, encode(s.thumbnail, 'base64') as thumbnail,
  r.tempo_bpm as "tempoBpm", (s.measurement #>> '{tempo,sureness}')::double precision as "tempoSureness",
  case when r.tempo_bpm is not null then r.moving_beats is null end as steady, r.one_seconds as "oneSeconds",
  r.beats_per_bar as "beatsPerBar", r.beat_unit as "beatUnit", (s.measurement ->> 'bars')::integer as bars,
  r.key_tonic as "keyTonic", r.key_mode as "keyMode",
  (s.measurement #>> '{key,sureness}')::double precision as "keySureness", r.rating, s.arrived_at as "arrivedAt",
  (select case when bool_or(p.audio_sha256 = o.sha256
                             and (p.grid ->> 'tempoBpm')::double precision = r.tempo_bpm
                             and (p.grid ->> 'one')::double precision = r.one_seconds
                             and (p.grid #>> '{meter,beatsPerBar}')::integer = r.beats_per_bar
                             and (p.grid #>> '{meter,beatUnit}')::integer = r.beat_unit
                             and p.grid -> 'movingBeats' = coalesce(to_jsonb(r.moving_beats), 'null'))
               then 'current' when count(*) > 0 then 'lost' end
     from proofs p where p.sample_id = s.sample_id and p.verdict = 'on') as proof,
  coalesce((select json_agg(json_build_object('facet', t.facet, 'value', t.value) order by t.facet, t.value)
              from sample_tags t where t.sample_id = s.sample_id), '[]') as tags,
  case when j.state is not null then json_build_object('state', j.state, 'stage', j.stage, 'progress', j.progress) end as job`;

export const SUMMARY_TABLES = `
  samples s
  join originals o using (original_id)
  left join revisions r on r.sample_id = s.sample_id and r.sequence = s.current_sequence
  left join jobs j on j.sample_id = s.sample_id and j.state in ('waiting', 'running')`;

export interface NewSample {
  originalId: number;
  name: string;
  folder: string;
}

export async function insertSample(on: Queryable, { originalId, name, folder }: NewSample): Promise<string> {
  const { rows } = await on.query(
    `insert into samples (original_id, name, folder, search_text) values ($1, $2, $3, lower($2 || ' ' || $3)) returning sample_id`,
    [originalId, name, folder],
  );
  return rows[0].sample_id;
}

/** Samples that share an original, oldest first; removed ones are left out. */
export async function samplesOfOriginal(
  on: Queryable,
  originalId: number,
): Promise<{ sampleId: string; name: string; folder: string }[]> {
  const { rows } = await on.query(
    `select sample_id as "sampleId", name, folder from samples where original_id = $1 and removed_at is null order by arrived_at, sample_id`,
    [originalId],
  );
  return rows;
}

export async function readSummary(on: Queryable, sampleId: string): Promise<SampleSummary | null> {
  const { rows } = await on.query(`select ${SUMMARY_COLUMNS} from ${SUMMARY_TABLES} where s.sample_id = $1`, [
    sampleId,
  ]);
  return rows.length ? sampleSummary.parse(rows[0]) : null;
}

const sampleCore = z.object({
  originalId: z.number(),
  name: z.string(),
  byteLength: z.number(),
  sha256: z.string(),
  format: z.string().nullable(),
  warnings: z.array(z.string()),
  measurement: measurement.nullable(),
  currentSequence: z.number().nullable(),
  removed: z.boolean(),
});
export type SampleCore = z.infer<typeof sampleCore>;

/** What the use cases need of a sample beyond its summary. */
export async function readSample(on: Queryable, sampleId: string): Promise<SampleCore | null> {
  const { rows } = await on.query(
    `select s.original_id as "originalId", s.name, o.byte_length as "byteLength", o.sha256, s.format, s.warnings, s.measurement,
            s.current_sequence as "currentSequence", s.removed_at is not null as removed
       from samples s join originals o using (original_id) where s.sample_id = $1`,
    [sampleId],
  );
  return rows.length ? sampleCore.parse(rows[0]) : null;
}

export interface MeasuredFacts {
  kind: string;
  format: string;
  durationSeconds: number;
  sampleRate: number;
  channels: number;
  warnings: string[];
  thumbnail: Int8Array;
  measurement: Measurement;
  needsLook: string[];
}

/** Writes what measuring found; a sample that only arrived becomes measured, others keep their standing. */
export async function recordMeasured(
  client: pg.PoolClient,
  sampleId: string,
  facts: MeasuredFacts,
): Promise<void> {
  await client.query(
    `update samples set kind = $2, format = $3, duration_seconds = $4, sample_rate = $5, channels = $6, warnings = $7,
            thumbnail = $8, measurement = $9, needs_look = $10, fault = null, measured_at = now(),
            standing = case when standing = 'arrived' then 'measured' else standing end
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
      facts.needsLook,
    ],
  );
}

/** Why the file cannot be decoded, in a sentence; the file stays. */
export async function recordFault(client: pg.PoolClient, sampleId: string, fault: string): Promise<void> {
  await client.query('update samples set fault = $2 where sample_id = $1', [sampleId, fault]);
}

export async function setStanding(
  on: Queryable,
  sampleId: string,
  standing: 'measured' | 'proved' | 'saved',
): Promise<void> {
  await on.query(
    `update samples set standing = $2, saved_at = case when $2 = 'saved' then coalesce(saved_at, now()) end where sample_id = $1`,
    [sampleId, standing],
  );
}

export async function setNeedsLook(
  on: Queryable,
  sampleId: string,
  reasons: readonly string[],
): Promise<void> {
  await on.query('update samples set needs_look = $2 where sample_id = $1', [sampleId, reasons]);
}

/** Puts a sample into the bin, or takes it out again. */
export async function setRemoved(on: Queryable, sampleId: string, removed: boolean): Promise<boolean> {
  const { rowCount } = await on.query(
    'update samples set removed_at = case when $2 then now() end where sample_id = $1',
    [sampleId, removed],
  );
  return rowCount === 1;
}

const SHOW: Record<IntakeQuery['show'], string> = {
  all: 'true',
  'needs a look': "(cardinality(s.needs_look) > 0 or s.fault is not null) and s.standing <> 'saved'",
  measuring:
    "exists (select from jobs q where q.sample_id = s.sample_id and q.state in ('waiting', 'running'))",
  faulty: 's.fault is not null',
  'not saved': "s.standing <> 'saved'",
  saved: "s.standing = 'saved'",
};

const SORTS: Record<IntakeQuery['sort'], string> = {
  arrived: 's.arrived_at',
  name: 'lower(s.name)',
  kind: 's.kind',
  length: 's.duration_seconds',
  tempo: 'r.tempo_bpm',
  key: 'r.key_mode, r.key_tonic',
  standing: "array_position(array['arrived', 'measured', 'proved', 'saved'], s.standing)",
  need: '(cardinality(s.needs_look) + case when s.fault is null then 0 else 10 end)',
};

/** `order by` for trusted expressions: every part in the direction, rows without a value last. */
export function ordered(expression: string, direction: 'up' | 'down'): string {
  const way = direction === 'up' ? 'asc' : 'desc';
  return `${splitTopLevel(expression)
    .map((part) => `${part} ${way} nulls last`)
    .join(', ')}, s.sample_id`;
}

function splitTopLevel(expression: string): string[] {
  return expression.includes('(') ? [expression] : expression.split(',');
}

/** One page of the Intake with the counts of its filters. */
export async function intakePage(query: IntakeQuery): Promise<IntakePage> {
  const words = searchWords(query.text);
  const where = `s.removed_at is null and ${SHOW[query.show]} and s.search_text like all ($1)`;
  const counts = Object.entries(SHOW).map(
    ([name, condition]) => `count(*) filter (where ${condition}) as "${name}"`,
  );
  const [rows, total, counted, measuring] = await Promise.all([
    database().query(
      `select ${SUMMARY_COLUMNS} from ${SUMMARY_TABLES} where ${where}
        order by ${ordered(SORTS[query.sort], query.direction)} offset $2 limit $3`,
      [words, query.offset, query.limit],
    ),
    database().query(`select count(*) as total from samples s where ${where}`, [words]),
    database().query(`select ${counts.join(', ')} from samples s where s.removed_at is null`),
    queueCounts(),
  ]);
  return {
    total: total.rows[0].total,
    rows: rows.rows.map((row) => sampleSummary.parse(row)),
    counts: counted.rows[0],
    measuring,
  };
}

/** `like` patterns that must all match: one for each word of the text. */
export function searchWords(text: string): string[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  return words.length ? words.map((word) => `%${word.replace(/[\\%_]/g, (c) => `\\${c}`)}%`) : ['%'];
}

/** Whether the library has nothing in it, the bin included. */
export async function libraryIsEmpty(): Promise<boolean> {
  const { rows } = await database().query('select not exists (select from samples) as empty');
  return rows[0].empty;
}
