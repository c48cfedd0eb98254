import type pg from 'pg';
import { z } from 'zod';
import { type Blend, blend, type BlendRow, blendRow } from '@/contract/blend';
import { type MixOf, mixOf, type MixExport } from '@/contract/mix';
import type { Differences, Planned } from '@/core/recipes/differences';
import { database } from './database';
import { fromRow, known } from './rows';
import { MOST_LISTED, documentStore } from './documents';

const VERSION = 1;
export const blendStore = documentStore('blend', blend, VERSION, {
  field: 'lanes',
  as: (sampleId) => ({ sampleId }),
});

/** All blends that are not in the bin, those changed last first. */
export async function listBlends(): Promise<BlendRow[]> {
  const { rows } = await database().query(
    `select b.blend_id as "blendId", s.state ->> 'name' as name, to_json(b.changed_at) as "changedAt",
            (s.state ->> 'tempoBpm')::double precision as "tempoBpm",
            array(select lane ->> 'name' from jsonb_array_elements(s.state -> 'lanes') lane) as lanes
       from blends b join blend_states s using (blend_id, sequence)
      where b.binned_at is null order by b.changed_at desc limit ${MOST_LISTED}`,
  );
  return fromRow(z.array(blendRow), rows, 'blend');
}

/** Keeps of which blend a sample came. */
export async function writeMix(
  client: pg.PoolClient,
  sampleId: string,
  kept: { blendId: string; outcome: MixExport; state: Blend; planned: Planned; differences: Differences },
): Promise<void> {
  await client.query(
    `insert into mixes (sample_id, blend_id, outcome, state, planned, differences, version)
     select $1, (select blend_id from blends where blend_id = $2), $3, $4, $5, $6, ${VERSION}`,
    [
      sampleId,
      kept.blendId,
      ...[kept.outcome, kept.state, kept.planned, kept.differences].map((value) => JSON.stringify(value)),
    ],
  );
}

/** Of which blend a sample came; null for any other. */
export async function readMix(sampleId: string): Promise<MixOf | null> {
  const { rows } = await database().query(
    `select m.blend_id as "blendId", outcome, state, differences, version from mixes m where sample_id = $1`,
    [sampleId],
  );
  if (rows.length === 0) return null;
  known(rows[0].version, VERSION, 'mix');
  return fromRow(mixOf, rows[0], 'mix');
}
