import { encodeWave } from '@/core/formats/encodeWave';
import { readEntry } from '@/server/entry';
import { measureAgain } from '@/server/tasks';
import { closeDatabase, database } from '@/store/database';
import { enqueueMeasuring, MOST_ATTEMPTS, takeTask } from '@/store/tasks';
import { drumFile } from '../support/files';
import { bring, emptyLibrary, inBulk, measureAll, measuredLoop, settle } from '../support/library';
import { halfTime } from '../support/music';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

test('a file that was imported is measured, with readings from every source', async () => {
  const { sampleId } = await bring('Rain Dance 200 bpm Am.wav', drumFile({ bpm: 100, bars: 4, one: 0.2 }));
  await measureAll();
  const entry = await readEntry(sampleId);
  expect(entry.summary).toMatchObject({
    standing: 'measured',
    kind: 'loop',
    format: 'wav',
    sampleRate: 44100,
    channels: 2,
    measuring: null,
  });
  expect(Math.abs(entry.settled.grid!.tempoBpm - 100)).toBeLessThan(0.02);
  expect(Math.abs(entry.settled.grid!.one - 0.2)).toBeLessThan(0.005);
  expect(entry.settled.key).toEqual({ none: true });
  expect(new Set(entry.readings.map(({ source }) => source))).toEqual(new Set(['detector', 'file name']));
  expect(entry.summary.doubts).toContainEqual(
    expect.objectContaining({ code: 'tempo disagrees', by: 'file name', saysBpm: 200 }),
  );
  expect(entry.summary.thumbnail!.length).toBeGreaterThan(300);
  const settledTempo = entry.readings.find(({ readingId }) => readingId === entry.settled.chosen.tempo);
  expect(settledTempo).toMatchObject({ property: 'tempo', source: 'detector', rank: 0 });
});

test('a file that cannot be decoded stays with its reason', async () => {
  const { sampleId } = await bring('notes.wav', new TextEncoder().encode('not a sound at all. '.repeat(40)));
  await measureAll();
  const entry = await readEntry(sampleId);
  expect(entry.summary).toMatchObject({
    standing: 'arrived',
    measuring: null,
    fault: expect.stringMatching(/looks like text/),
  });
});

test('bytes that changed in the store are noticed when they are measured', async () => {
  const { sampleId } = await bring('rotten.wav', drumFile({ bpm: 100, bars: 4 }));
  await database().query(
    'update original_chunks set bytes = set_byte(bytes, 2000, (get_byte(bytes, 2000) + 1) % 256)',
  );
  await measureAll();
  expect((await readEntry(sampleId)).summary.fault).toMatch(/its SHA-256 differs/);
});

test('the same bytes under another name share one original and are said to be duplicates', async () => {
  const bytes = drumFile({ bpm: 100, bars: 2 });
  const first = await bring('one.wav', bytes);
  const second = await bring('two.wav', bytes);
  const again = await bring('one.wav', bytes);
  expect(second).toMatchObject({ outcome: 'duplicate', sameAs: 'one.wav' });
  expect(again).toMatchObject({ outcome: 'already here', sampleId: first.sampleId });
  expect((await database().query('select count(*) as n from originals')).rows[0].n).toBe(1);
  await measureAll();
  expect((await readEntry(second.sampleId)).summary.todos).toContainEqual(
    expect.objectContaining({ code: 'alike', relation: 'same bytes', name: 'one.wav' }),
  );
  expect((await readEntry(first.sampleId)).summary.todos.map(({ code }) => code)).not.toContain('alike');
});

test('measuring again adds readings and never overwrites a curator’s choice', async () => {
  const sampleId = await measuredLoop();
  const before = await readEntry(sampleId);
  const grid = { ...before.settled.grid!, tempoBpm: 50 };
  await settle(sampleId, { base: before.sequence, words: 'half', patch: { grid } });
  await measureAgain(sampleId, { range: { low: 150, high: 220 } });
  await measureAll();
  const after = await readEntry(sampleId);
  expect(after.settled.grid!.tempoBpm).toBe(50);
  const detector = after.readings.filter(
    ({ source, property, rank }) => source === 'detector' && property === 'tempo' && rank === 0,
  );
  expect(detector.map(({ superseded }) => superseded)).toEqual([true, false]);
  expect(detector[1].value).toBeCloseTo(200, 0);
});

test('measured together, samples get the tempo that most of them agree on', async () => {
  const slow: string[] = [];
  for (const seed of [3, 4, 5])
    slow.push((await bring(`slow ${seed}.wav`, drumFile({ bpm: 60, bars: 4, seed }))).sampleId);
  const { left, right, sampleRate } = halfTime();
  const { sampleId } = await bring('half time.wav', encodeWave([left, right], sampleRate));
  await measureAll();
  const tempoOf = async (id: string) => (await readEntry(id)).settled.grid!.tempoBpm;
  for (const id of slow) expect(await tempoOf(id)).toBeCloseTo(60, 1);
  expect(await tempoOf(sampleId)).toBeCloseTo(120, 1);
  const together = { do: 'measure', range: null, meter: null, together: true } as const;
  await expect(inBulk(together, [sampleId, slow[0]])).rejects.toThrow(/cannot be measured together/);
  const { words } = await inBulk(together, [sampleId, ...slow]);
  expect(words).toBe('measured together');
  await measureAll();
  expect(await tempoOf(sampleId)).toBeCloseTo(60, 1);
  for (const id of slow) expect(await tempoOf(id)).toBeCloseTo(60, 1);
});

test('claims at the same time never get the same task, and urgent ones come first', async () => {
  const ids: string[] = [];
  for (let i = 0; i < 6; i++)
    ids.push((await bring(`${i}.wav`, encodeWave([new Float32Array(100 + i)], 8000))).sampleId);
  await enqueueMeasuring(database(), [ids[4]], {}, 10);
  const claimed = await Promise.all(ids.map((_, i) => takeTask(100 + i, ['measure'])));
  expect(new Set(claimed.map((task) => task!.taskId)).size).toBe(6);
  expect(new Set(claimed.map((task) => task!.lease)).size).toBe(6);
  expect(await takeTask(99, ['measure'])).toBeNull();
  await database().query("update tasks set state = 'waiting', runner = null, lease = null, attempts = 0");
  expect((await takeTask(1, ['measure']))!.sampleId).toBe(ids[4]);
  expect(MOST_ATTEMPTS).toBeGreaterThan(1);
});
