import type pg from 'pg';
import { z } from 'zod';
import { sampleSummary, STANDINGS, type SampleSummary } from '@/core/library/entry';
import type { AnnouncedFile, WhereHere } from '@/core/library/intake';
import type { IntakeCounts, IntakePage, IntakeQuery } from '@/core/library/shelfQuery';
import { NEED_SORTS, type Doubt } from '@/core/readings/needsALook';
import { measurement, type Measurement } from '@/core/measurement/schema';
import { database, type Queryable } from './database';

/** The columns of a summary; `s` is samples, `r` the current revision, `o` the original, `j` the open or failed job. */
export const SUMMARY_COLUMNS = `
  s.sample_id as "sampleId", coalesce(r.title, s.name) as name,
  case when r.title <> s.name then s.name end as "arrivedAs",
  s.folder, coalesce(r.kind, s.kind) as kind, s.standing, s.needs_look as "needsLook", s.need, s.format,
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
  (select json_build_object('setId', t.set_id, 'name', t.name, 'state', t.state)
     from stem_set_members m join stem_sets t using (set_id)
    where m.sample_id = s.sample_id and t.state <> 'refused' limit 1) as "stemSet",
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
  /** When the file was last changed where it came from, ms since 1970. */
  modifiedMs: number | null;
}

export async function insertSample(
  on: Queryable,
  { originalId, name, folder, modifiedMs }: NewSample,
): Promise<string> {
  const { rows } = await on.query(
    `insert into samples (original_id, name, folder, modified_ms, search_text)
     values ($1, $2, $3, $4, lower($2 || ' ' || $3)) returning sample_id`,
    [originalId, name, folder, modifiedMs],
  );
  return rows[0].sample_id;
}

/** Samples that share an original, oldest first; removed ones are left out. */
export async function samplesOfOriginal(
  on: Queryable,
  originalId: number,
): Promise<{ sampleId: string; name: string; folder: string }[]> {
  // Who asks in a transaction is about to add one: of two that ask at once the second waits to see what the first added.
  await on.query(`select from originals where original_id = $1 for no key update`, [originalId]);
  const { rows } = await on.query(
    `select sample_id as "sampleId", name, folder from samples where original_id = $1 and removed_at is null order by arrived_at, sample_id`,
    [originalId],
  );
  return rows;
}

/** Where each of the files is here already, by folder, name, length and time of the last change; null: nowhere. */
export async function filesHere(files: readonly AnnouncedFile[]): Promise<(WhereHere | null)[]> {
  const { rows } = await database().query(
    `select f.place, bool_and(s.removed_at is not null) as binned
       from jsonb_to_recordset($1) as f (place integer, name text, folder text, "byteLength" bigint, "modifiedMs" bigint)
       join samples s on s.folder = f.folder and s.name = f.name and s.modified_ms = f."modifiedMs"
       join originals o on o.original_id = s.original_id and o.byte_length = f."byteLength"
      group by f.place`,
    [JSON.stringify(files.map((file, place) => ({ ...file, place })))],
  );
  const here = new Map<number, WhereHere>(
    rows.map(({ place, binned }) => [place, binned ? 'bin' : 'library']),
  );
  return files.map((_, place) => here.get(place) ?? null);
}

export async function readSummary(on: Queryable, sampleId: string): Promise<SampleSummary | null> {
  const { rows } = await on.query(`select ${SUMMARY_COLUMNS} from ${SUMMARY_TABLES} where s.sample_id = $1`, [
    sampleId,
  ]);
  return rows.length ? sampleSummary.parse(rows[0]) : null;
}

const sampleCore = z.object({
  originalId: z.number(),
  /** The listening copy, for formats that browsers do not decode here. */
  listeningId: z.number().nullable(),
  listeningBytes: z.number().nullable(),
  name: z.string(),
  arrivedAs: z.string(),
  folder: z.string(),
  fault: z.string().nullable(),
  standing: z.enum(STANDINGS),
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
    `select s.original_id as "originalId", s.listening_id as "listeningId",
            (select l.byte_length from originals l where l.original_id = s.listening_id) as "listeningBytes",
            coalesce(r.title, s.name) as name, s.name as "arrivedAs", s.folder, s.fault, s.standing, o.byte_length as "byteLength", o.sha256, s.format, s.warnings, s.measurement,
            s.current_sequence as "currentSequence", s.removed_at is not null as removed
       from samples s join originals o using (original_id)
       left join revisions r on r.sample_id = s.sample_id and r.sequence = s.current_sequence
      where s.sample_id = $1`,
    [sampleId],
  );
  return rows.length ? sampleCore.parse(rows[0]) : null;
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

/** Writes what measuring found; a sample that only arrived becomes measured, others keep their standing. */
export async function recordMeasured(
  client: pg.PoolClient,
  sampleId: string,
  facts: MeasuredFacts,
): Promise<void> {
  await client.query(
    `update samples set kind = $2, format = $3, duration_seconds = $4, sample_rate = $5, channels = $6, warnings = $7,
            thumbnail = $8, measurement = $9, audio_sha256 = $10, listening_id = $11, fault = null, measured_at = now(),
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
      facts.audioSha256,
      facts.listeningId,
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

/** Keeps why a sample needs a look, of which sorts that is, and how much it does, 0 … 1. */
export async function writeNeed(
  on: Queryable,
  sampleId: string,
  doubts: readonly Pick<Doubt, 'sort' | 'words'>[],
  need: number,
): Promise<void> {
  await on.query('update samples set needs_look = $2, need_sorts = $3, need = $4 where sample_id = $1', [
    sampleId,
    doubts.map(({ words }) => words),
    [...new Set(doubts.map(({ sort }) => sort))],
    need,
  ]);
}

/** Puts a sample into the bin, or takes it out again. */
export async function setRemoved(on: Queryable, sampleId: string, removed: boolean): Promise<boolean> {
  const { rowCount } = await on.query(
    'update samples set removed_at = case when $2 then now() end where sample_id = $1',
    [sampleId, removed],
  );
  return rowCount === 1;
}

/** Puts a sample away as merged into another, or (null) brings it back. */
export async function setMergedInto(on: Queryable, sampleId: string, into: string | null): Promise<void> {
  await on.query(
    `update samples set merged_into = $2, removed_at = case when $2::uuid is null then null else now() end
      where sample_id = $1 and ($2::uuid is not null or merged_into is not null)`,
    [sampleId, into],
  );
}

const SHOW: Record<IntakeQuery['show'], string> = {
  all: 's.removed_at is null',
  'needs a look': `s.removed_at is null and (cardinality(s.needs_look) > 0 or s.fault is not null) and s.standing <> 'saved'`,
  ...(Object.fromEntries(
    NEED_SORTS.map((sort) => [
      sort,
      `s.removed_at is null and s.need_sorts @> array['${sort}'] and s.standing <> 'saved'`,
    ]),
  ) as Record<(typeof NEED_SORTS)[number], string>),
  sure: `s.removed_at is null and cardinality(s.needs_look) = 0 and s.fault is null and s.standing = 'measured'`,
  measuring: 's.removed_at is null and j.state is not null',
  faulty: 's.removed_at is null and s.fault is not null',
  'not saved': "s.removed_at is null and s.standing <> 'saved'",
  saved: "s.removed_at is null and s.standing = 'saved'",
  bin: 's.removed_at is not null and s.merged_into is null',
};

const SORTS: Record<IntakeQuery['sort'], string> = {
  arrived: 's.arrived_at',
  name: 'lower(coalesce(r.title, s.name))',
  kind: 'coalesce(r.kind, s.kind)',
  length: 's.duration_seconds',
  tempo: 'r.tempo_bpm',
  key: 'r.key_mode, r.key_tonic',
  standing: "array_position(array['arrived', 'measured', 'proved', 'saved'], s.standing)",
  // What cannot be read comes first; what is not measured yet has no need yet; what is saved has none any more.
  need: "(case when s.standing = 'saved' then -2 when s.fault is not null then 2 when s.measured_at is null then -1 else s.need end)",
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

/** Tables and conditions of a query of the Intake: no more than what it asks for, as all rows are gone through. */
function intakeChoice(
  { text, kind, sort }: Pick<IntakeQuery, 'text' | 'kind'> & Partial<Pick<IntakeQuery, 'sort'>>,
  show: string,
) {
  const values: unknown[] = [];
  const conditions = [show];
  if (text.trim() !== '') conditions.push(`s.search_text like all ($${values.push(searchWords(text))})`);
  if (kind !== '') conditions.push(`coalesce(r.kind, s.kind) = $${values.push(kind)}`);
  const order = sort ? SORTS[sort] : '';
  const needs = (alias: string) => `${conditions.join(' ')} ${order}`.includes(`${alias}.`);
  const tables = [
    'samples s',
    needs('r') && 'left join revisions r on r.sample_id = s.sample_id and r.sequence = s.current_sequence',
    (needs('j') || show === 'true') &&
      "left join (select sample_id, state from jobs where state in ('waiting', 'running')) j on j.sample_id = s.sample_id",
  ];
  return { from: `${tables.filter(Boolean).join(' ')} where ${conditions.join(' and ')}`, values };
}

/** One page of the Intake, with how many rows there are in all. */
export async function intakePage(query: IntakeQuery): Promise<IntakePage> {
  const { from, values } = intakeChoice({ text: query.text, kind: query.kind }, SHOW[query.show]);
  const [counted, rows] = await Promise.all([
    database().query(`select count(*) as total from ${from}`, values),
    intakeRows(query),
  ]);
  return { total: counted.rows[0].total, rows };
}

/** How many samples there are under each choice of `show`, how many sets are proposed, and how many pairs are alike. */
export async function intakeCounts(query: IntakeQuery): Promise<IntakeCounts> {
  const counts = Object.entries(SHOW).map(
    ([name, condition]) => `count(*) filter (where ${condition}) as "${name}"`,
  );
  const { from, values } = intakeChoice({ text: query.text, kind: query.kind }, 'true');
  const beside = [
    `(select count(*) from stem_sets where state = 'proposed') as "proposed stem sets"`,
    `(select count(*) from likenesses l join samples x on x.sample_id = l.a join samples y on y.sample_id = l.b
       where l.state = 'open' and x.removed_at is null and y.removed_at is null) as "alike pairs"`,
  ];
  const { rows } = await database().query(`select ${[...counts, ...beside].join(', ')} from ${from}`, values);
  return rows[0];
}

async function intakeRows(query: IntakeQuery): Promise<SampleSummary[]> {
  const order = ordered(SORTS[query.sort], query.direction);
  const { from, values } = intakeChoice(query, SHOW[query.show]);
  // The keys of the page first: what a row shows is looked up for the page alone.
  const { rows } = await database().query(
    `with page as materialized (
       select s.sample_id as id from ${from} order by ${order} offset $${values.length + 1} limit $${values.length + 2})
     select ${SUMMARY_COLUMNS} from ${SUMMARY_TABLES} join page on s.sample_id = page.id order by ${order}`,
    [...values, query.offset, query.limit],
  );
  return rows.map((row) => sampleSummary.parse(row));
}

/** The numbers of all samples that a query finds, in its order. */
export async function intakeIds(query: IntakeQuery): Promise<string[]> {
  const { from, values } = intakeChoice(query, SHOW[query.show]);
  const { rows } = await database().query(
    `select s.sample_id as id from ${from} order by ${ordered(SORTS[query.sort], query.direction)}`,
    values,
  );
  return rows.map(({ id }) => id);
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
