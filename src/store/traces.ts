import type { Queryable } from './database';
import { known } from './rows';

/** The version of the shape that `core/traces` packs. */
const VERSION = 1;

/** Keeps the packed traces of a sample; a later measurement replaces them. */
export async function writeTraces(on: Queryable, sampleId: string, bytes: Uint8Array): Promise<void> {
  await on.query(
    `insert into traces (sample_id, bytes, version) values ($1, $2, ${VERSION})
     on conflict (sample_id) do update set bytes = excluded.bytes, version = excluded.version`,
    [sampleId, Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength)],
  );
}

/** The packed traces of a sample, or null. */
export async function readTraces(on: Queryable, sampleId: string): Promise<Uint8Array | null> {
  const { rows } = await on.query('select bytes, version from traces where sample_id = $1', [sampleId]);
  if (rows.length === 0) return null;
  known(rows[0].version, VERSION, 'trace');
  return rows[0].bytes;
}
