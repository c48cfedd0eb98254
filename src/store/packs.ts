import { z } from 'zod';
import { pack, packRow, type PackRow } from '@/contract/pack';
import type { PackedRow } from '@/library/packs/contents';
import { database, type Queryable } from './database';
import { fromRow } from './rows';
import { MOST_LISTED, documentStore } from './documents';
import { readSummaries } from './summaries';

export const PACK_VERSION = 1;
export const packStore = documentStore('pack', pack, PACK_VERSION, {
  field: 'sampleIds',
  as: (sampleId) => sampleId,
});

/** All packs that are not in the bin, those changed last first. */
export async function listPacks(): Promise<PackRow[]> {
  const { rows } = await database().query(
    `select p.pack_id as "packId", s.state ->> 'name' as name, jsonb_array_length(s.state -> 'sampleIds') as samples,
            to_json(p.changed_at) as "changedAt",
            (select to_json(max(w.begun_at)) from pack_writings w left join tasks t using (task_id)
              where w.pack_id = p.pack_id and coalesce(t.state, 'done') = 'done') as "writtenAt"
       from packs p join pack_states s using (pack_id, sequence)
      where p.binned_at is null order by p.changed_at desc limit ${MOST_LISTED}`,
  );
  return fromRow(z.array(packRow), rows, 'pack');
}

/** Rows of lists for the samples of a pack, in its order, each with its licence; what is not there any more, or in the bin, is left out. */
export async function readPacked(on: Queryable, sampleIds: readonly string[]): Promise<PackedRow[]> {
  const { rows } = await on.query(
    'select sample_id as id, licence from settled where sample_id = any($1) and binned_at is null',
    [sampleIds],
  );
  const licences = new Map<string, string>(rows.map(({ id, licence }) => [id, licence ?? '']));
  const there = await readSummaries(
    on,
    sampleIds.filter((id) => licences.has(id)),
  );
  return there.map((row) => ({ ...row, licence: licences.get(row.sampleId)! }));
}
