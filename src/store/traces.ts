import type { Queryable } from './database';

/** Keeps the packed traces of a sample; a later measurement replaces them. */
export async function writeTraces(on: Queryable, sampleId: string, bytes: Uint8Array): Promise<void> {
  await on.query(
    `insert into traces (sample_id, bytes) values ($1, $2)
     on conflict (sample_id) do update set bytes = excluded.bytes`,
    [sampleId, Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength)],
  );
}

/** The packed traces of a sample, or null. */
export async function readTraces(on: Queryable, sampleId: string): Promise<Uint8Array | null> {
  const { rows } = await on.query('select bytes from traces where sample_id = $1', [sampleId]);
  return rows[0]?.bytes ?? null;
}
