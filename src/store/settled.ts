import type pg from 'pg';
import { ROW_RULES, type LightRow, type ListRow } from '@/library/samples/listRow';
import { database } from './database';

/** Writes the rows that lists have of samples; each sample has one since it arrived. */
export async function writeListRows(client: pg.PoolClient, rows: readonly ListRow[]): Promise<void> {
  if (rows.length === 0) return;
  await client.query(
    `update settled s set
       said_by = $2, sequence = r.sequence, saved_at = r."savedAt", binned_at = r."binnedAt", name = r.name, kind = r.kind, standing = r.standing,
       faulty = r.faulty, duration_seconds = r."durationSeconds", tempo_bpm = r."tempoBpm", one_seconds = r."oneSeconds",
       beats_per_bar = r."beatsPerBar", beat_unit = r."beatUnit", steady = r.steady, bars = r.bars, key_number = r."keyNumber",
       keyless = r.keyless, toneless = r.toneless, tuning_cents = r."tuningCents", strain_group = r."strainGroup", tempo_sureness = r."tempoSureness", key_sureness = r."keySureness",
       proof = r.proof, rating = r.rating, origin = r.origin, licence = r.licence, urgency = r.urgency, doubt_sorts = r."doubtSorts", doubts = r.doubts, todos = r.todos, facets = r.facets,
       words = r.words, search_text = r."searchText", like_rhythm = (r."like" ->> 'rhythm')::cube, like_sound = (r."like" ->> 'sound')::cube,
       like_harmony = (r."like" ->> 'harmony')::cube, like_all = (r."like" ->> 'all')::cube
     from jsonb_to_recordset($1) as r (
       "sampleId" uuid, sequence integer, "savedAt" timestamptz, "binnedAt" timestamptz, name text, kind text, standing text,
       faulty boolean, "durationSeconds" double precision, "tempoBpm" double precision, "oneSeconds" double precision,
       "beatsPerBar" smallint, "beatUnit" smallint, steady boolean, bars integer, "keyNumber" smallint, keyless boolean, toneless boolean,
       "tuningCents" real, "strainGroup" integer, "tempoSureness" real, "keySureness" real, proof text, rating smallint, origin text, licence text, urgency real, "doubtSorts" integer,
       doubts jsonb, todos jsonb, facets bigint, words text[], "searchText" text, "like" jsonb)
     where s.sample_id = r."sampleId"`,
    [JSON.stringify(rows), ROW_RULES],
  );
}

/** Writes what of rows may be another where nothing that was measured has a part in it. */
export async function writeLightRows(client: pg.PoolClient, rows: readonly LightRow[]): Promise<void> {
  if (rows.length === 0) return;
  await client.query(
    `update settled s set
       sequence = r.sequence, saved_at = r."savedAt", binned_at = r."binnedAt", name = r.name, standing = r.standing, rating = r.rating,
       origin = r.origin, licence = r.licence, urgency = r.urgency, doubt_sorts = r."doubtSorts", doubts = r.doubts, todos = r.todos,
       facets = r.facets, words = r.words, search_text = r."searchText", strain_group = r."strainGroup"
     from jsonb_to_recordset($1) as r (
       "sampleId" uuid, sequence integer, "savedAt" timestamptz, "binnedAt" timestamptz, name text, standing text, rating smallint,
       origin text, licence text, urgency real, "doubtSorts" integer, doubts jsonb, todos jsonb, facets bigint, words text[], "searchText" text,
       "strainGroup" integer)
     where s.sample_id = r."sampleId"`,
    [JSON.stringify(rows)],
  );
}

/** Samples whose rows were said by older rules, as from before an update. */
export async function rowsOfOlderRules(limit: number): Promise<string[]> {
  const { rows } = await database().query(
    'select sample_id as id from settled where said_by < $1 order by said_by limit $2',
    [ROW_RULES, limit],
  );
  return rows.map(({ id }) => id);
}
