import { createHash, randomUUID } from 'node:crypto';
import { database, hastyDatabase, transaction, whileArriving } from './database';

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

/** Bytes came for a place that is not where the arrival stopped. */
export class WrongPlaceError extends Error {
  override name = 'WrongPlaceError';
}

/** The stream ended before the announced length; what came is kept for going on. */
export class InterruptedError extends Error {
  override name = 'InterruptedError';
}

/** What an arrival is known by while it is not complete, and how long it is to become. */
export interface Announced {
  key: string;
  byteLength: number;
  /** Where the stream begins: what was received before, or 0. */
  from: number;
}

/** Somebody who wrote this recently still writes, seconds. */
const WRITING_SECONDS = 20;

/** How many bytes of an interrupted arrival are here, by key; keys of which nothing is here are left out. */
export async function receivedBytes(keys: readonly string[]): Promise<Map<string, number>> {
  const { rows } = await database().query(
    `select arrival_key as key, max((select count(*) from original_chunks c
        where c.original_id = o.original_id and octet_length(c.bytes) = $2)) as chunks
       from originals o where sha256 is null and arrival_key = any($1) group by arrival_key`,
    [keys, CHUNK_BYTES],
  );
  return new Map(rows.map(({ key, chunks }) => [key, chunks * CHUNK_BYTES]));
}

/**
 * Stores a stream of bytes chunk by chunk while it is hashed. Bytes that are already known are dropped and
 * the known original is returned. An announced arrival that breaks off keeps its whole chunks (see
 * `receivedBytes`) and goes on from there the next time; of others nothing half stored is left behind. Throws
 * TooLargeError beyond `limit`, WrongPlaceError when the stream does not begin where the arrival stopped, and
 * InterruptedError when it ends too early.
 */
export async function storeOriginal(
  source: AsyncIterable<Uint8Array>,
  limit: number,
  announced: Announced | null = null,
): Promise<StoredOriginal> {
  return announced
    ? whileArriving(announced.key, (isAlone) => storeArrival(source, limit, announced, isAlone))
    : storeArrival(source, limit, null, true);
}

async function storeArrival(
  source: AsyncIterable<Uint8Array>,
  limit: number,
  announced: Announced | null,
  isAlone: boolean,
): Promise<StoredOriginal> {
  const writer = randomUUID();
  const { originalId, chunks } = await openArrival(writer, announced, isAlone);
  const from = announced?.from ?? 0;
  let byteLength = from;
  let kept = false;
  try {
    if (chunks * CHUNK_BYTES !== from)
      throw new WrongPlaceError(`The arrival stopped at byte ${chunks * CHUNK_BYTES}, not ${from}.`);
    const hash = createHash('sha256');
    if (from > 0) for await (const part of readOriginal(originalId, 0, from)) hash.update(part);
    let index = chunks;
    for await (const chunk of chunked(source)) {
      // The last, shorter chunk of an arrival that breaks off would stand in the way of the rest.
      if (announced && chunk.length < CHUNK_BYTES && byteLength + chunk.length < announced.byteLength)
        throw new InterruptedError('The bytes ended before the announced length.');
      byteLength += chunk.length;
      if (byteLength > limit) throw new TooLargeError(`The file is larger than ${limit} bytes.`);
      hash.update(chunk);
      const { rowCount } = await hastyDatabase().query(
        `with mine as (update originals set written_at = now() where original_id = $1 and writer = $4 returning original_id)
         insert into original_chunks (original_id, chunk_index, bytes) select original_id, $2, $3 from mine`,
        [originalId, index++, chunk, writer],
      );
      if (rowCount !== 1) throw new WrongPlaceError('Somebody else goes on with this arrival.');
    }
    if (announced && byteLength !== announced.byteLength)
      throw new InterruptedError(`${byteLength} bytes came, ${announced.byteLength} were announced.`);
    const sha256 = hash.digest('hex');
    return await transaction(async (client) => {
      // Two arrivals of the same bytes at once: the second waits here and then finds the first.
      await client.query('select pg_advisory_xact_lock(hashtextextended($1, 1))', [sha256]);
      const known = await client.query('select original_id from originals where sha256 = $1', [sha256]);
      if (known.rows.length > 0) {
        await client.query('delete from originals where original_id = $1', [originalId]);
        // Whoever sent them is about to hold them.
        await client.query('update originals set complete_at = now() where original_id = $1', [
          known.rows[0].original_id,
        ]);
        return { originalId: known.rows[0].original_id, sha256, byteLength, known: true };
      }
      await client.query(
        `update originals set sha256 = $2, byte_length = $3, complete_at = now(), arrival_key = null, writer = null
          where original_id = $1`,
        [originalId, sha256, byteLength],
      );
      return { originalId, sha256, byteLength, known: false };
    });
  } catch (error) {
    kept = announced !== null && !(error instanceof TooLargeError) && byteLength <= announced.byteLength;
    // Whoever took over meanwhile goes on with it.
    if (kept)
      await database().query('update originals set writer = null where original_id = $1 and writer = $2', [
        originalId,
        writer,
      ]);
    else
      await database().query(
        'delete from originals where original_id = $1 and sha256 is null and writer = $2',
        [originalId, writer],
      );
    throw error;
  }
}

/**
 * The interrupted arrival of that key, if nobody writes it at present, or a new one. `isAlone`: whoever began it is
 * gone; else somebody writes it who may hang, and is left behind once nothing came for a while.
 */
async function openArrival(
  writer: string,
  announced: Announced | null,
  isAlone: boolean,
): Promise<{ originalId: number; chunks: number }> {
  if (announced) {
    const { rows } = await database().query(
      `update originals set writer = $2, written_at = now() where original_id = (
         select original_id from originals
          where arrival_key = $1 and sha256 is null
            and ($4 or writer is null or written_at < now() - make_interval(secs => $3))
          order by original_id for update skip locked limit 1)
       returning original_id, (select count(*) from original_chunks c
         where c.original_id = originals.original_id and octet_length(c.bytes) = $5) as chunks`,
      [announced.key, writer, WRITING_SECONDS, isAlone, CHUNK_BYTES],
    );
    // A last, shorter chunk came before its process died: it comes again, with what may follow it.
    if (rows.length)
      await database().query(
        'delete from original_chunks where original_id = $1 and octet_length(bytes) < $2',
        [rows[0].original_id, CHUNK_BYTES],
      );
    if (rows.length) return { originalId: rows[0].original_id, chunks: rows[0].chunks };
  }
  const { rows } = await hastyDatabase().query(
    'insert into originals (arrival_key, writer, written_at) values ($1, $2, now()) returning original_id',
    // Beside one that lives it has no name: whoever holds that may go on only with what nobody writes.
    [isAlone ? (announced?.key ?? null) : null, writer],
  );
  return { originalId: rows[0].original_id, chunks: 0 };
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

/** Length of a complete original, bytes, or null. */
export async function originalLength(originalId: number): Promise<number | null> {
  const { rows } = await database().query(
    'select byte_length from originals where original_id = $1 and sha256 is not null',
    [originalId],
  );
  return rows[0]?.byte_length ?? null;
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

/** Removes interrupted arrivals that nobody went on with for a week, and others after an hour. Returns their number. */
export async function clearInterruptedArrivals(): Promise<number> {
  const { rowCount } = await database().query(
    `delete from originals where sha256 is null and coalesce(written_at, began_at)
       < now() - case when arrival_key is null then interval '1 hour' else interval '7 days' end`,
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
