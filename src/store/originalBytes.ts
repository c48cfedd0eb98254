import { createHash } from 'node:crypto';
import { database, transaction } from './database';

/** The only place that knows where the bytes of originals live. */
const CHUNK_BYTES = 512 * 1024;

export interface StoredOriginal {
  originalId: number;
  sha256: string;
  byteLength: number;
  /** The bytes were here before; what arrived was not stored again. */
  known: boolean;
}

/** More bytes arrived than are allowed. */
export class TooLargeError extends Error {
  override name = 'TooLargeError';
}

/**
 * Stores a stream of bytes chunk by chunk while it is hashed. Bytes that are already known are dropped and
 * the known original is returned. Throws TooLargeError beyond `limit`; whatever goes wrong, nothing half
 * stored is left behind.
 */
export async function storeOriginal(
  source: AsyncIterable<Uint8Array>,
  limit: number,
): Promise<StoredOriginal> {
  const { rows } = await database().query('insert into originals default values returning original_id');
  const originalId: number = rows[0].original_id;
  try {
    const hash = createHash('sha256');
    let byteLength = 0;
    let index = 0;
    for await (const chunk of chunked(source)) {
      byteLength += chunk.length;
      if (byteLength > limit) throw new TooLargeError(`The file is larger than ${limit} bytes.`);
      hash.update(chunk);
      await database().query(
        'insert into original_chunks (original_id, chunk_index, bytes) values ($1, $2, $3)',
        [originalId, index++, chunk],
      );
    }
    const sha256 = hash.digest('hex');
    return await transaction(async (client) => {
      // Two arrivals of the same bytes at once: the second waits here and then finds the first.
      await client.query('select pg_advisory_xact_lock(hashtextextended($1, 1))', [sha256]);
      const known = await client.query('select original_id from originals where sha256 = $1', [sha256]);
      if (known.rows.length > 0) {
        await client.query('delete from originals where original_id = $1', [originalId]);
        return { originalId: known.rows[0].original_id, sha256, byteLength, known: true };
      }
      await client.query(
        'update originals set sha256 = $2, byte_length = $3, complete_at = now() where original_id = $1',
        [originalId, sha256, byteLength],
      );
      return { originalId, sha256, byteLength, known: false };
    });
  } catch (error) {
    await database().query('delete from originals where original_id = $1 and sha256 is null', [originalId]);
    throw error;
  }
}

/** Bytes `from` (inclusive) to `to` (exclusive) of an original, in order, one chunk in memory at a time. */
export async function* readOriginal(
  originalId: number,
  from: number,
  to: number,
): AsyncGenerator<Uint8Array> {
  for (let index = Math.floor(from / CHUNK_BYTES); index * CHUNK_BYTES < to; index++) {
    const start = Math.max(0, from - index * CHUNK_BYTES);
    const length = Math.min(CHUNK_BYTES, to - index * CHUNK_BYTES) - start;
    const { rows } = await database().query(
      'select substring(bytes from $3::integer for $4::integer) as part from original_chunks where original_id = $1 and chunk_index = $2',
      [originalId, index, start + 1, length],
    );
    if (rows.length === 0) throw new Error(`chunk ${index} of original ${originalId} is missing`);
    yield rows[0].part as Buffer;
  }
}

/** Reads the whole original and compares it with its hash. */
export async function verifyOriginal(originalId: number): Promise<boolean> {
  const { rows } = await database().query(
    'select sha256, byte_length from originals where original_id = $1',
    [originalId],
  );
  if (rows.length === 0) return false;
  const hash = createHash('sha256');
  for await (const part of readOriginal(originalId, 0, rows[0].byte_length)) hash.update(part);
  return hash.digest('hex') === rows[0].sha256;
}

/** Removes what interrupted arrivals left when the process was killed. Returns how many there were. */
export async function clearInterruptedArrivals(): Promise<number> {
  const { rowCount } = await database().query(
    "delete from originals where sha256 is null and began_at < now() - interval '1 hour'",
  );
  return rowCount ?? 0;
}

/** Cuts or joins blocks of any size into chunks of CHUNK_BYTES; the last one is shorter. */
async function* chunked(source: AsyncIterable<Uint8Array>): AsyncGenerator<Buffer> {
  let held = Buffer.alloc(CHUNK_BYTES);
  let filled = 0;
  for await (const block of source) {
    let at = 0;
    while (at < block.length) {
      const taken = Math.min(CHUNK_BYTES - filled, block.length - at);
      held.set(block.subarray(at, at + taken), filled);
      filled += taken;
      at += taken;
      if (filled === CHUNK_BYTES) {
        yield held;
        held = Buffer.alloc(CHUNK_BYTES);
        filled = 0;
      }
    }
  }
  if (filled > 0) yield held.subarray(0, filled);
}
