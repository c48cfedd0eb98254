import { spawn, type ChildProcess } from 'node:child_process';
import { copyFileSync, existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { encodeWave } from '@/core/formats/encodeWave';
import { randomFrom } from '@/demo/random';
import { closeDatabase, database } from '@/store/database';
import { cancelMeasuring, MOST_ATTEMPTS } from '@/store/tasks';
import { drumFile } from '../support/files';
import { bring, emptyLibrary } from '../support/library';
import { newLane } from '@/contract/blend';
import { recipeAtTarget } from '@/library/recipes/aims';
import { changeBlend, makeBlend, makeMixes } from '@/server/blends';
import { ANYBODY } from '@/server/change';
import { readEntry } from '@/server/entry';
import { familyOf, makeRenders } from '@/server/renders';
import { directTask, tasksNow } from '@/server/tasks';

/** The real process, as `npm start` runs it, and what it does when it is killed. */
const processes: ChildProcess[] = [];

function startMeasuring(program = 'build/tasks.mjs', threads = 2): ChildProcess {
  const child = spawn(process.execPath, [program], {
    stdio: 'ignore',
    env: { ...process.env, GRENTO_THREADS: String(threads) },
  });
  processes.push(child);
  return child;
}

async function ended(child: ChildProcess) {
  if (child.exitCode === null && child.signalCode === null)
    await new Promise((resolve) => child.once('exit', resolve));
}

/** Long enough that it is still being measured when it is killed. */
function longNoise(seed: number): Uint8Array {
  const random = randomFrom(seed);
  return encodeWave([Float32Array.from({ length: 44100 * 240 }, () => random() - 0.5)], 44100);
}

async function until(condition: () => Promise<boolean>, seconds = 150) {
  for (const end = Date.now() + seconds * 1000; Date.now() < end; await sleep(60))
    if (await condition()) return;
  throw new Error('it did not come to pass');
}

const task = async (sampleId: string) =>
  (
    await database().query(
      'select state, attempts, runner, fault from tasks where sample_id = $1 order by task_id desc limit 1',
      [sampleId],
    )
  ).rows[0];

beforeEach(emptyLibrary);
afterEach(async () => {
  for (const child of processes.splice(0)) {
    child.kill('SIGKILL');
    await ended(child);
  }
});
afterAll(closeDatabase);

test('it measures what arrives while it runs, woken by notification', async () => {
  startMeasuring();
  await sleep(1500);
  const { sampleId } = await bring('late.wav', drumFile({ bpm: 120, bars: 2 }));
  await until(async () => (await task(sampleId)).state === 'done');
});

test('a job whose process is killed is done by another one', async () => {
  const { sampleId } = await bring('long.wav', longNoise(1));
  const first = startMeasuring();
  await until(async () => (await task(sampleId)).state === 'running');
  first.kill('SIGKILL');
  await ended(first);
  expect((await task(sampleId)).state).toBe('running');
  startMeasuring();
  await until(async () => (await task(sampleId)).state === 'done');
  expect((await task(sampleId)).attempts).toBe(2);
});

test('a file that takes its process down each time fails after its tries and says why', async () => {
  const { sampleId } = await bring('poison.wav', longNoise(2));
  for (let attempt = 1; attempt <= MOST_ATTEMPTS; attempt++) {
    const child = startMeasuring();
    await until(async () => {
      const { state, attempts } = await task(sampleId);
      return state === 'running' && attempts === attempt;
    });
    child.kill('SIGKILL');
    await ended(child);
  }
  startMeasuring();
  await until(async () => (await task(sampleId)).state === 'failed');
  expect((await task(sampleId)).fault).toMatch(/tried 3 times.*process that did it ended/);
  const { rows } = await database().query('select fault from samples where sample_id = $1', [sampleId]);
  expect(rows[0].fault).toMatch(/tried 3 times/);
});

test('a cancelled measurement stops, and the thread goes on with the next file', async () => {
  const { sampleId } = await bring('unwanted.wav', longNoise(3));
  startMeasuring();
  await until(async () => (await task(sampleId)).state === 'running');
  await cancelMeasuring(database(), [sampleId]);
  const next = await bring('wanted.wav', drumFile({ bpm: 90, bars: 2 }));
  await until(async () => (await task(next.sampleId)).state === 'done');
  expect((await task(sampleId)).state).toBe('cancelled');
});

test('two processes share the queue: neither does what the other has taken', async () => {
  const taken = await Promise.all([5, 6].map((seed) => bring(`noise ${seed}.wav`, longNoise(seed))));
  startMeasuring(undefined, 1);
  startMeasuring(undefined, 1);
  const runners = async () =>
    new Set((await Promise.all(taken.map(({ sampleId }) => task(sampleId)))).map(({ runner }) => runner));
  await until(async () => {
    const all = await runners();
    return all.size === 2 && !all.has(null);
  });
  await until(async () =>
    (await Promise.all(taken.map(({ sampleId }) => task(sampleId)))).every(({ state }) => state === 'done'),
  );
  for (const { sampleId } of taken) expect((await task(sampleId)).attempts).toBe(1);
});

test('threads that die at their start are started again, with rests between, until they can', async () => {
  // Beside the real one, so that packages are found.
  const folder = mkdtempSync('build/torn-');
  try {
    const program = join(folder, 'tasks.mjs');
    const thread = join(folder, 'taskThread.mjs');
    copyFileSync('build/tasks.mjs', program);
    const starts = join(folder, 'starts');
    writeFileSync(
      thread,
      `import { appendFileSync } from 'node:fs'; appendFileSync(${JSON.stringify(starts)}, 'x'); process.exit(1);`,
    );
    startMeasuring(program, 1);
    const count = () => (existsSync(starts) ? readFileSync(starts).length : 0);
    const { sampleId } = await bring('patient.wav', drumFile({ bpm: 110, bars: 2 }));
    await until(async () => count() >= 2);
    // Without rests it would have been thousands by now.
    await sleep(1000);
    expect(count()).toBeLessThan(6);
    copyFileSync('build/taskThread.mjs', thread);
    await until(async () => (await task(sampleId)).state === 'done');
    // That its thread did not start was no fault of the file.
    expect((await task(sampleId)).attempts).toBe(1);
  } finally {
    rmSync(folder, { recursive: true });
  }
});

test('stopped in order, it gives its jobs back without counting against them', async () => {
  const { sampleId } = await bring('long.wav', longNoise(4));
  const child = startMeasuring();
  await until(async () => (await task(sampleId)).state === 'running');
  child.kill('SIGTERM');
  await ended(child);
  expect(await task(sampleId)).toMatchObject({ state: 'waiting', attempts: 0 });
});

test('a render whose process is killed leaves nothing half, and is made by the next one; paused and cancelled it stops', async () => {
  const { sampleId } = await bring('parade.wav', drumFile({ bpm: 120, bars: 20 }));
  const first = startMeasuring();
  await until(async () => (await task(sampleId)).state === 'done');
  const entry = await readEntry(sampleId);
  const writing = { format: 'wav 24', sampleRate: null, template: '{name} {bpm}' } as const;
  const at = (tempoBpm: number) => recipeAtTarget(entry, { tempoBpm, key: null, isTape: false }, writing)!;
  const { taskId } = await makeRenders({ recipes: [at(97), at(131)] }, ANYBODY);
  const now = async () => (await tasksNow()).tasks.find((one) => one.taskId === taskId)!;
  const children = async () => (await familyOf(sampleId)).children;
  await until(async () => (await now()).received > 0);
  first.kill('SIGKILL');
  await ended(first);
  expect(await now()).toMatchObject({ state: 'running', done: 0 });
  expect(await children()).toEqual([]);
  startMeasuring();
  await until(async () => (await now()).done === 1);
  await directTask(taskId, { do: 'pause' });
  await sleep(400);
  const paused = (await children()).length;
  await sleep(1500);
  expect(await children()).toHaveLength(paused);
  await directTask(taskId, { do: 'resume' });
  await until(async () => (await now()).state === 'done');
  const made = await children();
  // Made side by side, whichever was ready first.
  expect(made.map(({ name }) => name).sort()).toEqual(['parade 131.wav', 'parade 97.wav']);
  const { rows } = await database().query(
    'select count(*) as count from originals o where not exists (select from samples s where s.original_id = o.original_id)',
  );
  expect(rows[0].count).toBe(0);
});

test('a mix of more lanes than there are cores is made, and made again', async () => {
  const ids: string[] = [];
  for (let i = 0; i < 7; i++)
    ids.push((await bring(`lane ${i}.wav`, drumFile({ bpm: 90 + 7 * i, bars: 2, seed: i }))).sampleId);
  startMeasuring();
  for (const sampleId of ids) await until(async () => (await task(sampleId)).state === 'done');
  const { id: blendId } = await makeBlend({ name: 'Seven' }, ANYBODY);
  const takes = { tempoBpm: 104, key: null, meter: { beatsPerBar: 4, beatUnit: 4 }, movement: null };
  for (const [i, sampleId] of ids.entries()) {
    const lane = newLane({ laneId: `lane-${i}`, sampleId, name: `${i}`, times: 1 });
    const order = { do: 'put', lane, leads: i === 0, takes: i === 0 ? takes : null };
    await changeBlend(blendId, { do: 'order', words: 'add', order }, ANYBODY);
  }
  for (let round = 1; round <= 2; round++) {
    await makeMixes(blendId, { outcomes: [{ what: 'mix' }] }, ANYBODY);
    await until(async () => {
      const mixes = (await tasksNow()).tasks.filter(({ kind }) => kind === 'mix');
      expect(mixes.flatMap(({ faults }) => faults)).toEqual([]);
      return mixes.filter(({ state }) => state === 'done').length === round;
    }, 60);
  }
  expect((await familyOf(ids[0])).children.map(({ name }) => name)).toEqual(['Seven', 'Seven']);
});
