import { createHash } from 'node:crypto';
import { randomFrom } from '@/demo/random';
import { closeDatabase, database } from '@/store/database';
import {
  clearInterruptedArrivals,
  readOriginal,
  storeOriginal,
  TooLargeError,
  verifyOriginal,
} from '@/store/originalBytes';
import { inBlocks, joined, sameBytes } from '../support/bytes';
import { emptyLibrary } from '../support/library';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

const random = randomFrom(1);
const bytes = Uint8Array.from({ length: 1_300_001 }, () => random() * 256);
const rows = async (table: string) =>
  (await database().query(`select count(*) as n from ${table}`)).rows[0].n;

test('bytes come back as they went in, whole and in any part', async () => {
  const stored = await storeOriginal(inBlocks(bytes), 1e7);
  expect(stored).toMatchObject({
    byteLength: bytes.length,
    known: false,
    sha256: createHash('sha256').update(bytes).digest('hex'),
  });
  expect(sameBytes(await joined(readOriginal(stored.originalId, 0, bytes.length)), bytes)).toBe(true);
  for (const [from, to] of [
    [0, 1],
    [524_287, 524_289],
    [524_288, 1_048_576],
    [1_300_000, 1_300_001],
  ]) {
    expect(sameBytes(await joined(readOriginal(stored.originalId, from, to)), bytes.subarray(from, to))).toBe(
      true,
    );
  }
  expect(await verifyOriginal(stored.originalId)).toBe(true);
  expect(await rows('original_chunks')).toBe(3);
});

test('known bytes are not stored twice, also when both arrive at once', async () => {
  const [a, b] = await Promise.all([
    storeOriginal(inBlocks(bytes), 1e7),
    storeOriginal(inBlocks(bytes, 100_000), 1e7),
  ]);
  expect(a.originalId).toBe(b.originalId);
  expect([a.known, b.known].sort()).toEqual([false, true]);
  expect([await rows('originals'), await rows('original_chunks')]).toEqual([1, 3]);
});

test('what is too large, or breaks off, leaves nothing behind', async () => {
  await expect(storeOriginal(inBlocks(bytes), 1_000_000)).rejects.toThrow(TooLargeError);
  const broken = async function* () {
    yield bytes.subarray(0, 600_000);
    throw new Error('the line went dead');
  };
  await expect(storeOriginal(broken(), 1e7)).rejects.toThrow('the line went dead');
  expect([await rows('originals'), await rows('original_chunks')]).toEqual([0, 0]);
});

test('bytes that rot in the store are noticed', async () => {
  const { originalId } = await storeOriginal(inBlocks(bytes), 1e7);
  await database().query(
    'update original_chunks set bytes = set_byte(bytes, 5, (get_byte(bytes, 5) + 1) % 256) where original_id = $1 and chunk_index = 1',
    [originalId],
  );
  expect(await verifyOriginal(originalId)).toBe(false);
});

test('arrivals that a kill interrupted are cleared after an hour', async () => {
  await database().query("insert into originals (began_at) values (now() - interval '2 hours'), (now())");
  expect(await clearInterruptedArrivals()).toBe(1);
  expect(await rows('originals')).toBe(1);
});

test('the schema refuses what makes no sense', async () => {
  const refused = (sql: string) => expect(database().query(sql)).rejects.toThrow();
  await refused("insert into originals (sha256, complete_at) values ('abc', now())");
  await refused("insert into originals (sha256) values (repeat('a', 64))");
  const { originalId } = await storeOriginal(inBlocks(bytes.subarray(0, 10)), 100);
  await refused(`insert into original_chunks values (${originalId}, 5, '')`);
  await refused(`insert into samples (original_id, name) values (${originalId}, '')`);
  await refused(`insert into samples (original_id, name, kind) values (${originalId}, 'x', 'opera')`);
  const { rows: made } = await database().query(
    `insert into samples (original_id, name) values (${originalId}, 'x') returning sample_id`,
  );
  const id = made[0].sample_id;
  await refused(
    `insert into revisions (sample_id, sequence, words, made_by, tempo_bpm) values ('${id}', 1, 'half a grid', 'curator', 100)`,
  );
  await refused(
    `insert into revisions (sample_id, sequence, words, made_by, key_tonic) values ('${id}', 1, 'half a key', 'curator', 3)`,
  );
  await refused(
    `insert into tasks (kind, payload, sample_id, state) values ('measure', '{}', '${id}', 'running')`,
  );
  await refused(`insert into tasks (kind, payload) values ('measure', '{}')`);
  const row = (more: string, values: string) =>
    refused(
      `insert into settled (sample_id, arrived_at, name, lot, ${more}) values ('${id}', now(), 'x', 0, ${values})`,
    );
  await row('standing', "'saved'");
  await row('tempo_bpm', '100');
  await row('key_number', '24');
  await row('key_number, keyless', '3, true');
});
