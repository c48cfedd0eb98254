import { spawnSync } from 'node:child_process';
import {
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseFile } from 'music-metadata';
import { shelfView } from '@/contract/shelfQuery';
import { mirrorShelf, type MirrorOptions } from '@/server/mirror';
import { readEntry } from '@/server/entry';
import { keepSearch } from '@/server/searches';
import { closeDatabase, databaseUrl } from '@/store/database';
import { drumFile } from '../support/files';
import { bring, emptyLibrary, measureAll, setSaved, settle } from '../support/library';

let root: string;
let rope: string;
let ropeToo: string;
let lamp: string;

/** Three saved loops, two of one name. */
beforeAll(async () => {
  await emptyLibrary();
  root = join(mkdtempSync(join(tmpdir(), 'mirror-')), 'copies');
  rope = (await bring('Rope.wav', drumFile({ bpm: 96, bars: 2, seed: 1 }))).sampleId;
  ropeToo = (await bring('ROPE.wav', drumFile({ bpm: 96, bars: 2, seed: 2 }))).sampleId;
  lamp = (await bring('Lamp.wav', drumFile({ bpm: 120, bars: 2, seed: 3 }))).sampleId;
  await measureAll();
  for (const [sampleId, tempoBpm] of [
    [rope, 96],
    [ropeToo, 96],
    [lamp, 120],
  ] as const) {
    await tempo(sampleId, tempoBpm);
    await setSaved(sampleId, true);
  }
}, 60_000);
afterAll(async () => {
  rmSync(join(root, '..'), { recursive: true, force: true });
  await emptyLibrary();
  await closeDatabase();
});

async function tempo(sampleId: string, tempoBpm: number) {
  const { sequence, settled } = await readEntry(sampleId);
  await settle(sampleId, {
    base: sequence,
    words: 'tempo',
    patch: { grid: { ...settled.grid!, tempoBpm }, key: { none: true } },
  });
}

const mirror = (how: Partial<MirrorOptions> = {}) =>
  mirrorShelf({
    ...{ folder: root, search: '', saved: null, folders: '{kind}', template: '{name}[ {bpm} bpm]' },
    ...{ isEmptied: false, tell: () => {}, signal: new AbortController().signal, ...how },
  });

/** All files but the mirror's own, with the folders they lie in. */
const files = (): string[] =>
  readdirSync(root, { recursive: true, withFileTypes: true })
    .filter((one) => one.isFile() && !one.parentPath.endsWith('.grento'))
    .map((one) => join(one.parentPath, one.name).slice(root.length + 1))
    .sort();
const at = (path: string) => join(root, path);

const ALL = ['loop/Lamp 120 bpm.wav', 'loop/ROPE 96 bpm (2).wav', 'loop/Rope 96 bpm.wav'];

test('what is saved lies there as tagged copies; a second time nothing is written', async () => {
  expect(await mirror()).toMatchObject({ written: 3, unchanged: 0, removed: 0, troubles: [], isWhole: true });
  // Of equal names the one that comes first by name, then by number, has no number behind it.
  const inSmall = (paths: readonly string[]) => paths.map((path) => path.toLowerCase()).sort();
  expect(inSmall(files())).toEqual(inSmall(ALL));
  const { common } = await parseFile(at('loop/Lamp 120 bpm.wav'));
  expect(common.bpm).toBe(120);
  const before = files().map((path) => statSync(at(path)).mtimeMs);
  expect(await mirror()).toMatchObject({ written: 0, unchanged: 3, removed: 0, troubles: [] });
  expect(files().map((path) => statSync(at(path)).mtimeMs)).toEqual(before);
});

test('only what is settled otherwise is written again, under the name that it has now', async () => {
  await tempo(lamp, 60);
  expect(await mirror()).toMatchObject({ written: 1, unchanged: 2, removed: 1, troubles: [] });
  expect(files()).toContain('loop/Lamp 60 bpm.wav');
  expect(files()).not.toContain('loop/Lamp 120 bpm.wav');
  expect((await parseFile(at('loop/Lamp 60 bpm.wav'))).common.bpm).toBe(60);
});

test('what the mirror did not write stays as it is, and what somebody changed is told', async () => {
  writeFileSync(at('loop/Lamp 80 bpm.wav'), 'mine');
  writeFileSync(at('diary.txt'), 'mine as well');
  await tempo(lamp, 80);
  expect(await mirror()).toMatchObject({ written: 1, unchanged: 2, removed: 1, troubles: [] });
  expect(readFileSync(at('loop/Lamp 80 bpm.wav'), 'utf8')).toBe('mine');
  expect(existsSync(at('loop/Lamp 80 bpm (2).wav'))).toBe(true);
  writeFileSync(at('loop/Lamp 80 bpm (2).wav'), 'drawn over');
  await tempo(lamp, 120);
  const told = await mirror();
  expect(told).toMatchObject({ written: 0, unchanged: 2, removed: 0 });
  expect(told.troubles).toEqual([
    '“loop/Lamp 80 bpm (2).wav” was changed by somebody else; it is left as it is.',
  ]);
  expect(readFileSync(at('loop/Lamp 80 bpm (2).wav'), 'utf8')).toBe('drawn over');
  // Moved away, it is written again.
  rmSync(at('loop/Lamp 80 bpm (2).wav'));
  expect(await mirror()).toMatchObject({ written: 1, troubles: [] });
  expect(files()).toContain('loop/Lamp 120 bpm.wav');
  expect(readFileSync(at('diary.txt'), 'utf8')).toBe('mine as well');
});

test('a play list of each saved search holds the files that it finds', async () => {
  await keepSearch({ name: 'Slow ones', asked: shelfView.parse({ text: '90-100' }) });
  expect(await mirror()).toMatchObject({ written: 1, unchanged: 3 });
  const lines = readFileSync(at('Slow ones.m3u8'), 'utf8').split('\n');
  const listed = lines.filter((line) => line.endsWith('.wav'));
  expect(listed).toHaveLength(2);
  for (const path of listed) expect(existsSync(at(path))).toBe(true);
  expect(lines.filter((line) => line.startsWith('#EXTINF:5,'))).toHaveLength(2);
});

test('only what a search finds, typed or saved; an unknown one is refused', async () => {
  const other = `${root} of some`;
  expect(await mirror({ folder: other, saved: 'slow ONES', folders: '' })).toMatchObject({
    written: 3,
    troubles: [],
  });
  expect(readdirSync(other).filter((name) => name.endsWith('.wav'))).toHaveLength(2);
  expect(await mirror({ folder: other, search: 'lamp', folders: '' })).toMatchObject({
    written: 1,
    removed: 3,
  });
  await expect(mirror({ folder: other, saved: 'fast ones' })).rejects.toThrow('no saved search “fast ones”');
});

test('stopped, or killed between telling the journal and putting a file in its place, it goes on', async () => {
  const other = `${root} again`;
  const stopping = new AbortController();
  const stopped = await mirror({
    ...{ folder: other, signal: stopping.signal },
    tell: (done) => done === 1 && stopping.abort(),
  });
  expect(stopped).toMatchObject({ written: 2, isWhole: false });
  const journal = readFileSync(join(other, '.grento/journal.jsonl'), 'utf8').trim().split('\n');
  expect(journal).toHaveLength(2);
  // As a kill leaves it: the second file is announced and lies beside; the journal's last line is cut off.
  const { path } = JSON.parse(journal[1]) as { path: string };
  rmSync(join(other, path));
  writeFileSync(join(other, '.grento/part'), 'half');
  writeFileSync(join(other, '.grento/journal.jsonl'), `${journal.join('\n')}\n{"path":"loop/La`);
  expect(await mirror({ folder: other })).toMatchObject({
    written: 3,
    unchanged: 1,
    troubles: [],
    isWhole: true,
  });
  expect(readdirSync(join(other, '.grento'))).toEqual(['mirror.json']);
});

test('what has left the Shelf is removed; where nothing is left that has to be meant', async () => {
  await setSaved(lamp, false);
  expect(await mirror()).toMatchObject({ removed: 1, unchanged: 3 });
  await setSaved(rope, false);
  await setSaved(ropeToo, false);
  await expect(mirror()).rejects.toThrow(/^Nothing is found, so that all 2 files/);
  expect(await mirror({ isEmptied: true })).toMatchObject({ removed: 3 });
  expect(files()).toEqual(['diary.txt', 'loop/Lamp 80 bpm.wav']);
  for (const sampleId of [rope, ropeToo, lamp]) await setSaved(sampleId, true);
});

test('a folder that cannot be used is refused with a sentence', async () => {
  await expect(mirror({ folder: join(root, 'no/such/one') })).rejects.toThrow(
    'the folder above it does not exist',
  );
  await expect(mirror({ folder: at('diary.txt') })).rejects.toThrow('a part of its path is a file');
  await expect(mirror({ template: '{nmae}' })).rejects.toThrow('There is no field {nmae}.');
  const newer = `${root} newer`;
  await mirror({ folder: newer });
  const own = join(newer, '.grento/mirror.json');
  writeFileSync(own, readFileSync(own, 'utf8').replace('"version":1', '"version":2'));
  await expect(mirror({ folder: newer })).rejects.toThrow('of another version of Grento');
});

test('two at once do not write over each other', async () => {
  const other = `${root} twice`;
  const both = await Promise.allSettled([mirror({ folder: other }), mirror({ folder: other })]);
  expect(both.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
  expect(await mirror({ folder: other })).toMatchObject({ written: 0, unchanged: 4 });
});

test('a file of the same length and time counts as unchanged, one of another time does not', async () => {
  const other = `${root} touched`;
  await mirror({ folder: other });
  const path = join(other, 'loop/Lamp 120 bpm.wav');
  utimesSync(path, new Date(), new Date(Date.now() + 60_000));
  expect((await mirror({ folder: other })).troubles).toHaveLength(1);
});

test('as a command: what it did in a line, 1 for what was refused, 2 for what makes no sense', () => {
  const run = (...args: string[]) =>
    spawnSync(process.execPath, ['scripts/mirror.mjs', ...args], {
      encoding: 'utf8',
      env: { ...process.env, DATABASE_URL: databaseUrl() },
    });
  const done = run(`${root} by command`, '--search', 'lamp');
  expect([done.stderr, done.status]).toEqual(['', 0]);
  expect(done.stdout).toMatch(/^0 unchanged, 1 written, 0 removed, \d+\.\d s$/m);
  const refused = run(`${root} by command`, '--search', 'nobody');
  expect(refused.stderr).toMatch(/^Nothing is found/m);
  expect(refused.status).toBe(1);
  expect(run().status).toBe(2);
  expect(run(root, '--search', 'a', '--saved', 'b').stderr).toMatch(
    /^--search and --saved exclude each other/,
  );
}, 60_000);
