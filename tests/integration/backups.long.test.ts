import {
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Client } from 'pg';
import { BackupError, backUp, restore } from '../../scripts/lib/backups.mjs';
import { connected, inDatabase } from '../../scripts/lib/databases.mjs';
import { ANYBODY } from '@/server/change';
import { makePack } from '@/server/packs';
import { storageNow } from '@/server/storage';
import { closeDatabase, database, databaseUrl } from '@/store/database';
import { drumFile } from '../support/files';
import { bring, emptyLibrary, measureAll, measuredLoop } from '../support/library';

const folder = mkdtempSync(join(tmpdir(), 'grento-backups-'));
const inThis = (name: string) => inDatabase(databaseUrl(), name);
const another = 'grento_restored_library';
const target = inThis(another);

const maintenance = <T>(work: (client: Client) => Promise<T>) => connected(inThis('template1'), work);
const databases = async () =>
  (await maintenance((client) => client.query('select datname as name from pg_database'))).rows.map(
    ({ name }) => name as string,
  );
const unfinished = async () => (await databases()).filter((name) => /check|arriving/.test(name));

/** Everything that a library holds, table by table, row by row. */
const contentOf = (url: string) =>
  connected(url, async (client) => {
    const { rows } = await client.query(
      "select table_name as name from information_schema.tables where table_schema = 'public' and table_name <> 'backups' order by 1",
    );
    const content: Record<string, string> = {};
    for (const { name } of rows) {
      const text = `select md5(coalesce(string_agg(t::text, '|' order by t::text), '')) as sum, count(*) as n from ${name} t`;
      const of = (await client.query(text)).rows[0];
      content[name] = `${of.n} ${of.sum}`;
    }
    return content;
  });

beforeEach(async () => {
  await emptyLibrary();
  await database().query('truncate backups');
  await maintenance(async (client) => {
    for (const name of await databases())
      if (name === another || name.startsWith('grento_before_')) await client.query(`drop database ${name}`);
    await client.query(`create database ${another} template template0`);
  });
});
afterAll(async () => {
  await closeDatabase();
  rmSync(folder, { recursive: true });
});

test('a backup is the library as it was, read back, and becomes a library again, row by row and byte by byte', async () => {
  const sampleId = await measuredLoop('rope.wav');
  await bring('not measured.wav', drumFile({ bpm: 97, bars: 2, seed: 3 }));
  await makePack({ name: 'Rigging' }, ANYBODY);
  const content = await contentOf(databaseUrl());
  const to = join(folder, 'whole.backup');
  const made = await backUp({ url: databaseUrl(), to });
  expect(made).toMatchObject({ file: to, samples: 2, bytes: statSync(to).size });
  expect(statSync(to).mode & 0o077).toBe(0);
  const { rows } = await database().query('select file, byte_length, samples, verified_at from backups');
  expect(rows).toEqual([{ file: to, byte_length: made.bytes, samples: 2, verified_at: expect.any(String) }]);

  const { lastBackup } = await storageNow();
  expect(lastBackup).toMatchObject({ file: to, bytes: made.bytes, samples: 2 });
  expect(Date.parse(lastBackup!.verifiedAt!)).toBeGreaterThan(Date.parse(lastBackup!.beganAt));

  // What comes after it is not in it.
  await bring('later.wav', drumFile({ bpm: 121, bars: 2, seed: 4 }));
  expect(await restore({ url: target, file: to })).toEqual({ samples: 2, originals: 2, aside: null });
  expect(await contentOf(target)).toEqual(content);
  const kept = await connected(target, (client) =>
    client.query('select count(*)::integer as n from samples where sample_id = $1', [sampleId]),
  );
  expect(kept.rows[0].n).toBe(1);
  expect(await unfinished()).toEqual([]);
});

test('a library that is there is refused, or put aside and kept; nobody may be using it', async () => {
  await measuredLoop('rope.wav');
  const file = join(folder, 'first.backup');
  await backUp({ url: databaseUrl(), to: file });
  await restore({ url: target, file });
  await expect(restore({ url: target, file })).rejects.toThrow('a library with 1 samples already');
  await connected(target, () =>
    expect(restore({ url: target, file, replaces: true })).rejects.toThrow('stop Grento first'),
  );
  const { aside } = await restore({ url: target, file, replaces: true });
  expect(await databases()).toEqual(expect.arrayContaining([aside, another]));
  expect(await contentOf(inThis(aside!))).toEqual(await contentOf(target));
});

test('what is torn, foreign or newer is refused in a sentence, and nothing changes', async () => {
  await measuredLoop('rope.wav');
  const file = join(folder, 'torn.backup');
  await backUp({ url: databaseUrl(), to: file });
  const before = await databases();
  const whole = readFileSync(file);
  truncateSync(file, Math.floor(whole.length / 2));
  await expect(restore({ url: target, file })).rejects.toThrow(
    /^torn.backup is no whole backup of Grento, nothing/,
  );
  writeFileSync(file, 'RIFF');
  await expect(restore({ url: target, file })).rejects.toThrow(BackupError);
  await expect(restore({ url: target, file: `${file}.gone` })).rejects.toThrow('There is no file');
  expect(await databases()).toEqual(before);

  await database().query("insert into schema_version (version, name) values (9999, 'later')");
  try {
    const newer = join(folder, 'newer.backup');
    await backUp({ url: databaseUrl(), to: newer });
    await expect(restore({ url: target, file: newer })).rejects.toThrow('a newer Grento (schema 9999');
  } finally {
    await database().query('delete from schema_version where version = 9999');
  }
  expect(await databases()).toEqual(before);
});

test('an original that has rotted is named, and nothing that looks like a backup is left', async () => {
  await bring('rope.wav', drumFile({ bpm: 97, bars: 2, seed: 3 }));
  await database().query('update original_chunks set bytes = set_byte(bytes, 100, 1 # get_byte(bytes, 100))');
  const { rows } = await database().query('select sha256 from originals');
  const to = join(folder, 'rotten.backup');
  const attempt = backUp({ url: databaseUrl(), to });
  await expect(attempt).rejects.toThrow(
    `1 of 1 originals do not match their checksum, the first ${rows[0].sha256}`,
  );
  expect(readdirSync(folder).filter((name) => name.startsWith('rotten'))).toEqual([]);
  expect(await unfinished()).toEqual([]);
  // Asked for all the same it is written, is not told as verified, and does not become a library unnoticed.
  await backUp({ url: databaseUrl(), to, isVerified: false });
  const told = await database().query('select verified_at from backups');
  expect(told.rows).toEqual([{ verified_at: null }]);
  await expect(restore({ url: target, file: to })).rejects.toThrow('do not match their checksum');
});

test('a folder keeps the newest; other files in it are nobody’s business; one that is there is not written over', async () => {
  await bring('rope.wav', drumFile({ bpm: 97, bars: 2, seed: 3 }));
  const to = join(folder, 'daily');
  const first = await backUp({ url: databaseUrl(), to, isVerified: false });
  const old = ['grento-2020-01-01-000000.backup', 'grento-2020-01-02-000000.backup', 'notes.backup'];
  for (const name of old) writeFileSync(join(to, name), 'x');
  // Names go by the second.
  await new Promise((resolve) => setTimeout(resolve, 1100));
  const second = await backUp({ url: databaseUrl(), to, keep: 3, isVerified: false });
  expect(second.removed).toEqual([old[0]]);
  expect(readdirSync(to).sort()).toEqual(
    [old[1], old[2], ...[first, second].map(({ file }) => file.split('/').at(-1))].sort(),
  );
  await expect(backUp({ url: databaseUrl(), to: first.file })).rejects.toThrow('exists already');
  await expect(backUp({ url: databaseUrl(), to: join(folder, 'x.backup'), keep: 2 })).rejects.toThrow(
    'Name a folder',
  );
});

test('cancelled in the middle it leaves no file and no database', async () => {
  await bring('rope.wav', drumFile({ bpm: 97, bars: 2, seed: 3 }));
  const aborting = new AbortController();
  const tell = (text: string) => text.startsWith('Reading') && aborting.abort();
  const to = join(folder, 'cancelled.backup');
  await expect(backUp({ url: databaseUrl(), to, tell, signal: aborting.signal })).rejects.toThrow();
  expect(readdirSync(folder).filter((name) => name.startsWith('cancelled'))).toEqual([]);
  expect(await unfinished()).toEqual([]);
});

test('a library that is measured while it is written is whole at one moment', async () => {
  for (let i = 0; i < 4; i++) await bring(`${i}.wav`, drumFile({ bpm: 90 + i, bars: 2, seed: i + 1 }));
  const to = join(folder, 'meanwhile.backup');
  const [made] = await Promise.all([backUp({ url: databaseUrl(), to }), measureAll()]);
  expect(made.samples).toBe(4);
  expect(await restore({ url: target, file: to })).toMatchObject({ samples: 4 });
});
