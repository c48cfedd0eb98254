import { z } from 'zod';
import type { LikeBy } from '@/core/resemblance/features';
import { measurement } from '@/core/measurement/schema';
import { gridValue } from '@/core/rhythm/grid';
import { database } from './database';
import { fromRow } from './rows';

const measured = z.object({ sampleId: z.uuid(), measurement, grid: gridValue.nullable() });

/** Measured samples whose features are not kept yet, as from before they were. */
export async function readWithoutFeatures(limit: number): Promise<z.infer<typeof measured>[]> {
  const { rows } = await database().query(
    `select x.sample_id as "sampleId", x.measurement,
            case when r.tempo_bpm is not null then json_build_object(
              'tempoBpm', r.tempo_bpm, 'one', r.one_seconds, 'movingBeats', r.moving_beats,
              'meter', json_build_object('beatsPerBar', r.beats_per_bar, 'beatUnit', r.beat_unit)) end as grid
       from settled s join samples x using (sample_id)
       left join revisions r on r.sample_id = s.sample_id and r.sequence = s.sequence
      where s.like_all is null and x.measurement is not null limit $1`,
    [limit],
  );
  return rows.map((row) => fromRow(measured, row, 'measured sample'));
}

/** Keeps the features of samples that have none. */
export async function writeFeatures(rows: readonly { sampleId: string; like: Record<LikeBy, string> }[]) {
  await database().query(
    `update settled s set like_rhythm = r.rhythm::cube, like_sound = r.sound::cube, like_harmony = r.harmony::cube, like_all = r."all"::cube
       from jsonb_to_recordset($1) as r ("sampleId" uuid, rhythm text, sound text, harmony text, "all" text)
      where s.sample_id = r."sampleId" and s.like_all is null`,
    [JSON.stringify(rows.map(({ sampleId, like }) => ({ sampleId, ...like })))],
  );
}
