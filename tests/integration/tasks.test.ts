import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import pg from 'pg';
import { readEntry } from '@/server/entry';
import { keepPlace, takeFromPlace } from '@/server/places';
import { directTask, giveBack, measureAgain, tasksNow } from '@/server/tasks';
import { bring as bringTask } from '@/server/tasks/bring';
import { measure } from '@/server/tasks/measure';
import { closeDatabase, database, databaseUrl } from '@/store/database';
import { holdPlace, letPlaceGo } from '@/store/places';
import { endItem, listLongTasks, reportItem, takeItem } from '@/store/longTasks';
import {
  cancelMeasuring,
  endTask,
  enqueueMeasuring,
  measuringState,
  MOST_ATTEMPTS,
  releaseTask,
  reportTask,
  sumCounts,
  takeTask,
} from '@/store/tasks';
import { drumFile } from '../support/files';
import { bring, bringAll, emptyLibrary, measureAll } from '../support/library';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

const stateOf = async (sampleId: string) =>
  (
    await database().query(
      'select state, attempts, payload, again, fault from tasks where sample_id = $1 order by task_id',
      [sampleId],
    )
  ).rows;

test('what is asked for while it is being measured is measured once more', async () => {
  const { sampleId } = await bring('Twice.wav', drumFile({ bpm: 100, bars: 4 }));
  const task = (await takeTask(1, ['measure']))!;
  await measureAgain(sampleId, { range: { low: 150, high: 220 } });
  expect((await stateOf(sampleId))[0]).toMatchObject({ state: 'running', payload: { range: null } });
  await measure(task, () => {});
  expect(await stateOf(sampleId)).toMatchObject([
    { state: 'waiting', payload: { range: { low: 150, high: 220 } }, again: null },
  ]);
  expect((await readEntry(sampleId)).settled.grid!.tempoBpm).toBeCloseTo(100, 1);
  await measureAll();
  expect((await readEntry(sampleId)).settled.grid!.tempoBpm).toBeCloseTo(200, 1);
});

test('only who holds the lease writes: a task that was taken again is from the list the first one’s', async () => {
  const { sampleId } = await bring('Fenced.wav', drumFile({ bpm: 100, bars: 2 }));
  const first = (await takeTask(1, ['measure']))!;
  await releaseTask(first);
  const second = (await takeTask(2, ['measure']))!;
  expect(second.lease).not.toBe(first.lease);
  expect(await reportTask(first, 'listening', 0.5)).toBe(false);
  await measure(first, () => {});
  expect((await readEntry(sampleId)).summary.standing).toBe('arrived');
  expect(await endTask(database(), first, null)).toBe(false);
  await releaseTask(first);
  await giveBack(first, 'it died');
  expect((await stateOf(sampleId))[0]).toMatchObject({ state: 'running', attempts: 1 });
  await measure(second, () => {});
  expect((await readEntry(sampleId)).summary.standing).toBe('measured');
});

test('a file that fails again and again is given up with its reason, which stands in the list', async () => {
  const { sampleId } = await bring('Poison.wav', drumFile({ bpm: 100, bars: 1 }));
  for (let tries = 1; tries <= MOST_ATTEMPTS; tries++) {
    const task = (await takeTask(1, ['measure']))!;
    expect(task.attempts).toBe(tries);
    await giveBack(task, 'its thread crashed');
  }
  expect(await takeTask(1, ['measure'])).toBeNull();
  const { summary } = await readEntry(sampleId);
  expect(summary.fault).toBe('Measuring was tried 3 times and ended each time: its thread crashed.');
  const { rows } = await database().query('select faulty, urgency from settled where sample_id = $1', [
    sampleId,
  ]);
  expect(rows[0]).toEqual({ faulty: true, urgency: 2 });
  // Asked for again it has its tries again, and what comes of it stands there instead.
  await enqueueMeasuring(database(), [sampleId], {});
  await measureAll();
  expect((await readEntry(sampleId)).summary).toMatchObject({ fault: null, standing: 'measured' });
});

test('what is to be measured is counted as it changes, whatever becomes of it', async () => {
  const counted = async () => {
    const { waiting, running } = await measuringState();
    const { rows } = await database().query(
      `select count(*) filter (where state = 'waiting') as waiting, count(*) filter (where state = 'running') as running from tasks`,
    );
    expect({ waiting, running }).toEqual(rows[0]);
    return [waiting, running];
  };
  const ids: string[] = [];
  for (let i = 0; i < 6; i++)
    ids.push((await bring(`${i}.wav`, drumFile({ bpm: 100, bars: 1, seed: i }))).sampleId);
  expect(await counted()).toEqual([6, 0]);
  const task = (await takeTask(1, ['measure']))!;
  const failing = (await takeTask(1, ['measure']))!;
  expect(await counted()).toEqual([4, 2]);
  await measure(task, () => {});
  await giveBack(failing, 'it died');
  expect(await counted()).toEqual([5, 0]);
  await cancelMeasuring(database(), [ids[5]]);
  await database().query('delete from samples where sample_id = $1', [ids[4]]);
  expect(await counted()).toEqual([3, 0]);
  for (let i = 0; i < 60; i++) {
    await releaseTask((await takeTask(1, ['measure']))!);
    if (i % 20 === 0) await sumCounts();
  }
  await sumCounts();
  expect(await counted()).toEqual([3, 0]);
  const { rows } = await database().query('select count(*) as n from measuring_counts');
  expect(rows[0].n).toBeLessThan(100);
});

describe('long tasks', () => {
  let root = '';
  beforeEach(() => {
    root = mkdtempSync(join(tmpdir(), 'grento-tasks-'));
    mkdirSync(join(root, 'loft'));
    for (const i of [1, 2, 3])
      writeFileSync(join(root, 'loft', `${i}.wav`), drumFile({ bpm: 100, bars: 1, seed: i }));
  });
  afterEach(() => rmSync(root, { recursive: true }));
  const begun = async () => {
    const { placeId } = await keepPlace({ path: root });
    return (await takeFromPlace(placeId, { paths: ['loft'] })).taskId;
  };

  test('paused and resumed, the first runner writes nothing more of it', async () => {
    const taskId = await begun();
    const first = (await takeTask(1, ['bring']))!;
    const item = (await takeItem(first))!;
    await directTask(taskId, { do: 'pause' });
    expect(await reportItem(first, item.position, 10)).toBe(false);
    expect(await takeItem(first)).toBeNull();
    await directTask(taskId, { do: 'resume' });
    const second = (await takeTask(2, ['bring']))!;
    // The first one comes back and ends what is no longer its own.
    await endItem(first, item.position, { fault: 'given up' });
    await bringTask(first, new AbortController().signal);
    expect((await listLongTasks())[0]).toMatchObject({ state: 'running', done: 0, failed: 0 });
    await bringTask(second, new AbortController().signal);
    expect((await listLongTasks())[0]).toMatchObject({ state: 'done', done: 3, failed: 0 });
    const { rows } = await database().query('select count(*) as n from samples');
    expect(rows[0].n).toBe(3);
  });

  test('what failed is tried again, what is forgotten is gone', async () => {
    const taskId = await begun();
    rmSync(join(root, 'loft', '2.wav'));
    await bringAll();
    const [{ state, done, failed, faults }] = (await tasksNow()).tasks;
    expect([state, done, failed]).toEqual(['done', 2, 1]);
    expect(faults[0]).toMatchObject({ name: '2.wav', fault: expect.stringMatching(/no longer there/) });
    writeFileSync(join(root, 'loft', '2.wav'), drumFile({ bpm: 100, bars: 1, seed: 2 }));
    await directTask(taskId, { do: 'retry' });
    await bringAll();
    expect((await tasksNow()).tasks[0]).toMatchObject({ state: 'done', done: 3, failed: 0, faults: [] });
    await directTask(taskId, { do: 'forget' });
    expect((await tasksNow()).tasks).toEqual([]);
    await expect(directTask(taskId, { do: 'pause' })).rejects.toThrow('has ended');
  });

  test('a place is watched by one process at a time', async () => {
    const { placeId } = await keepPlace({ path: root });
    const [one, other] = [new pg.Client(databaseUrl()), new pg.Client(databaseUrl())];
    await Promise.all([one.connect(), other.connect()]);
    expect(await holdPlace(one, placeId)).toBe(true);
    expect(await holdPlace(other, placeId)).toBe(false);
    // Whoever ends, however, lets it go.
    await one.end();
    for (let tries = 0; tries < 50 && !(await holdPlace(other, placeId)); tries++) await sleep(50);
    const third = new pg.Client(databaseUrl());
    await third.connect();
    expect(await holdPlace(third, placeId)).toBe(false);
    await letPlaceGo(other, placeId);
    expect(await holdPlace(third, placeId)).toBe(true);
    await Promise.all([other.end(), third.end()]);
  });
});
