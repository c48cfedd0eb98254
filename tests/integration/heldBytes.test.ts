import { existsSync, mkdtempSync, readdirSync, rmSync, utimesSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { recipeAtTarget } from '@/library/recipes/aims';
import { binNow, emptyBin } from '@/server/bin';
import { makeBlend } from '@/server/blends';
import { ANYBODY } from '@/server/change';
import { readEntry } from '@/server/entry';
import { makeRenders } from '@/server/renders';
import { askArchive, sampleArchive } from '@/server/sampleArchive';
import { joinStems } from '@/server/stemSets';
import { changeSettings } from '@/server/settings';
import { storageNow } from '@/server/storage';
import { sweep } from '@/server/sweep';
import { temporaryFolder } from '@/server/temporary';
import { taggedCopy } from '@/server/taggedCopy';
import { closeDatabase, database } from '@/store/database';
import { storeOriginal } from '@/store/originalBytes';
import { inBlocks } from '../support/bytes';
import { drumFile } from '../support/files';
import { bring, emptyLibrary, measureAll, measuredLoop, renderAll, setInBin } from '../support/library';

// Temporary files of our own: those of other processes come and go meanwhile.
const usual = process.env.TMPDIR;
const ours = mkdtempSync(join(tmpdir(), 'grento-held-'));
beforeAll(() => (process.env.TMPDIR = ours));
afterAll(() => {
  if (usual === undefined) delete process.env.TMPDIR;
  else process.env.TMPDIR = usual;
  rmSync(ours, { recursive: true });
});

beforeEach(emptyLibrary);
afterAll(closeDatabase);

test('storage is told by what it is for, and that there is no backup yet', async () => {
  const sampleId = await measuredLoop('parent.wav');
  const other = drumFile({ bpm: 90, bars: 2, seed: 9 });
  await bring('other.wav', other);
  const before = await storageNow();
  expect(before).toMatchObject({ stored: { imported: { files: 2 } }, lastBackup: null, freeBytes: null });
  expect(before.stored.rendered).toBeUndefined();
  const writing = { format: 'wav 24', sampleRate: null, template: '{name} {bpm}' } as const;
  const aim = { tempoBpm: 97, key: null, isTape: false } as const;
  await makeRenders({ recipes: [recipeAtTarget(await readEntry(sampleId), aim, writing)!] }, ANYBODY);
  await renderAll();
  const after = await storageNow();
  expect(after.stored).toMatchObject({ imported: before.stored.imported, rendered: { files: 1 } });
  expect(after.databaseBytes).toBeGreaterThan(after.stored.imported!.bytes);
  // Nothing rests on what nobody owns.
  const loose = await storeOriginal(inBlocks(drumFile({ bpm: 71, bars: 2, seed: 2 })), 1e8);
  expect((await storageNow()).stored.unused).toEqual({ files: 1, bytes: loose.byteLength });
});

const count = async (table: string) =>
  (await database().query(`select count(*) as n from ${table}`)).rows[0].n as number;
const temporary = () => readdirSync(tmpdir()).filter((name) => name.startsWith('grento-temporary-')).length;
test('the bin says what hangs on it; emptied, samples and the bytes that nobody else holds are gone', async () => {
  const sampleId = await measuredLoop('parent.wav');
  const twin = (await bring('twin.wav', drumFile({ bpm: 100, bars: 4, one: 0.2, seed: 5 }), 'elsewhere'))
    .sampleId;
  const other = (await bring('other.wav', drumFile({ bpm: 90, bars: 2, seed: 9 }))).sampleId;
  await measureAll();
  await joinStems({ sampleIds: [sampleId, other], name: 'Two' }, ANYBODY);
  const writing = { format: 'wav 24', sampleRate: null, template: '{name} {bpm}' } as const;
  const aim = { tempoBpm: 97, key: null, isTape: false } as const;
  await makeRenders({ recipes: [recipeAtTarget(await readEntry(sampleId), aim, writing)!] }, ANYBODY);
  await renderAll();
  await makeBlend({ name: 'Rain' }, ANYBODY);
  await setInBin(sampleId, true);
  // Its bytes are the twin's as well.
  expect(await binNow()).toMatchObject({ samples: 1, bytes: 0, hanging: { made: 1 }, binDays: 30 });
  await setInBin(other, true);
  const bytes = drumFile({ bpm: 90, bars: 2, seed: 9 }).length;
  expect(await binNow()).toMatchObject({ samples: 2, bytes });
  const before = await count('originals');
  expect(await emptyBin({ sampleIds: null })).toEqual({ samples: 2, bytes, left: 0 });
  expect(await count('originals')).toBe(before - 1);
  expect(await binNow()).toMatchObject({ samples: 0, bytes: 0 });
  await expect(readEntry(sampleId)).rejects.toThrow('no such sample');
  // What shares its bytes, and what was made of it, is as it was.
  expect((await readEntry(twin)).summary).toMatchObject({ name: 'twin.wav', fault: null });
  const { rows } = await database().query("select name, parent from settled where name like 'parent 97%'");
  expect(rows).toEqual([{ name: 'parent 97.wav', parent: null }]);
  // What is not in the bin is not deleted, whoever asks.
  expect(await emptyBin({ sampleIds: [twin] })).toMatchObject({ samples: 0 });
  expect((await readEntry(twin)).summary.name).toBe('twin.wav');
});

test('what has been in the bin for long enough is deleted by itself', async () => {
  const [old, fresh] = [await measuredLoop('old.wav', 1), await measuredLoop('fresh.wav', 2)];
  await setInBin(old, true);
  await setInBin(fresh, true);
  await database().query("update settled set binned_at = now() - interval '40 days' where sample_id = $1", [
    old,
  ]);
  await changeSettings({ binDays: null });
  await sweep();
  expect(await count('samples')).toBe(2);
  await changeSettings({ binDays: 30 });
  await sweep();
  const { rows } = await database().query('select name from samples');
  expect(rows).toEqual([{ name: 'fresh.wav' }]);
});

test('bytes that nobody holds are swept away once they have had time to be held', async () => {
  const sampleId = await measuredLoop();
  const { originalId } = await storeOriginal(inBlocks(drumFile({ bpm: 80, bars: 1 })), Infinity);
  await sweep();
  expect(await count('originals')).toBe(2);
  await database().query("update originals set complete_at = now() - interval '2 hours'");
  // Somebody sends the same bytes again at this moment.
  await storeOriginal(inBlocks(drumFile({ bpm: 80, bars: 1 })), Infinity);
  await sweep();
  expect(await count('originals')).toBe(2);
  await database().query("update originals set complete_at = now() - interval '2 hours'");
  await sweep();
  const { rows } = await database().query('select original_id as id from originals');
  expect(rows.map(({ id }) => id)).not.toContain(originalId);
  expect((await readEntry(sampleId)).summary.fault).toBeNull();
});

test('a download that is cut before or after its first byte leaves nothing among temporary files', async () => {
  const sampleId = await measuredLoop();
  const before = temporary();
  await (await taggedCopy(sampleId)).bytes.return(undefined);
  const { bytes } = await taggedCopy(sampleId);
  await bytes.next();
  await bytes.return(undefined);
  expect((await bytes.next()).done).toBe(true);
  expect(temporary()).toBe(before);
  // What a process that was killed left behind goes with the next sweep.
  const left = await temporaryFolder();
  // Somebody's own folder has nothing to do with it.
  const own = mkdtempSync(join(tmpdir(), 'grento-'));
  for (const folder of [left, own]) utimesSync(folder, new Date(0), new Date(0));
  await sweep();
  expect(existsSync(left)).toBe(false);
  expect(existsSync(own)).toBe(true);
  rmSync(own, { recursive: true });
});

test('an archive that is cut in the middle stops being put together', async () => {
  const ids: string[] = [];
  for (let i = 0; i < 3; i++)
    ids.push((await bring(`${i}.wav`, drumFile({ bpm: 100, bars: 8, seed: i }))).sampleId);
  await measureAll();
  const handles = () => readdirSync('/proc/self/fd').length;
  const [before, folders] = [handles(), temporary()];
  for (let round = 0; round < 3; round++) {
    const archive = sampleArchive(askArchive({ sampleIds: ids, as: 'tagged' }).key);
    for await (const part of archive) if (part.length > 0) break;
  }
  await new Promise((resolve) => setTimeout(resolve, 300));
  expect(temporary()).toBe(folders);
  expect(handles()).toBeLessThanOrEqual(before + 1);
});
