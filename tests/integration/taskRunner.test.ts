import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { BRINGING_KINDS } from '@/contract/tasks';
import { keepPlace, takeFromPlace } from '@/server/places';
import { directTask, giveBack, tasksNow } from '@/server/tasks';
import { bring as bringTask, type BringingTask } from '@/server/tasks/bring';
import { closeDatabase, database } from '@/store/database';
import { takeItem } from '@/store/longTasks';
import { MOST_ATTEMPTS, takeTask } from '@/store/tasks';
import { taskRunner, type Lane } from '@/workers/taskRunner';
import { drumFile } from '../support/files';
import { emptyLibrary } from '../support/library';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

/** No process holds this number: what runs under it is this test's. */
const RUNNER = 4711;
let root = '';
let runs: ReturnType<typeof taskRunner> | null = null;
beforeEach(() => {
  root = mkdtempSync(join(tmpdir(), 'grento-runner-'));
  mkdirSync(join(root, 'loft'));
  for (const i of [1, 2, 3])
    writeFileSync(join(root, 'loft', `${i}.wav`), drumFile({ bpm: 100, bars: 1, seed: i }));
});
afterEach(async () => {
  await runs?.stop();
  runs = null;
  rmSync(root, { recursive: true });
});

const begun = async () => {
  const { placeId } = await keepPlace({ path: root });
  return (await takeFromPlace(placeId, { paths: ['loft'] })).taskId;
};
const stateOf = async (taskId: number) =>
  (await database().query('select state, attempts, fault, runner from tasks where task_id = $1', [taskId]))
    .rows[0];
async function until(condition: () => Promise<boolean>) {
  for (let tries = 0; tries < 400; tries++, await sleep(25)) if (await condition()) return;
  throw new Error('it did not come to pass');
}
const running = (run: Lane['run']) => {
  runs = taskRunner(RUNNER, [{ kinds: BRINGING_KINDS, places: 1, run }]);
  runs.look();
  return runs;
};
const bringIt: Lane['run'] = (task, { signal }) => bringTask(task as BringingTask, signal);

test('a task that fails is let go each time, and after its tries stands with the reason', async () => {
  const taskId = await begun();
  let tried = 0;
  running(async () => {
    tried++;
    throw new Error('the bellows are torn');
  });
  await until(async () => (await stateOf(taskId)).state === 'failed');
  expect(tried).toBe(MOST_ATTEMPTS);
  expect((await stateOf(taskId)).fault).toBe(
    'This task was tried 3 times and ended each time: the bellows are torn.',
  );
  await directTask(taskId, { do: 'retry' });
  expect(await stateOf(taskId)).toMatchObject({ state: 'waiting', attempts: 0 });
});

test('a task that nobody can read fails with its reason, and the next one is done', async () => {
  const taskId = await begun();
  await database().query(
    `insert into tasks (kind, payload, words, priority) values ('bring', '{"placeId": "torn"}', 'unreadable', 9)`,
  );
  running(bringIt);
  await until(async () => (await stateOf(taskId)).state === 'done');
  const [unreadable] = (await tasksNow()).tasks.filter(({ words }) => words === 'unreadable');
  expect(unreadable).toMatchObject({
    state: 'failed',
    fault: expect.stringMatching(/form that this version cannot read/),
  });
});

test('trouble with the database does not count as tried, and it goes on by itself', async () => {
  const taskId = await begun();
  let tried = 0;
  running(async (task, control) => {
    if (tried++ < 2)
      throw Object.assign(new Error('terminating connection due to administrator command'), {
        code: '57P01',
      });
    await bringIt(task, control);
  });
  await until(async () => (await stateOf(taskId)).state === 'done');
  expect(tried).toBe(3);
  expect((await stateOf(taskId)).attempts).toBe(1);
});

test('what cannot be let go at once is let go as soon as it can', async () => {
  const taskId = await begun();
  let tried = 0;
  await database().query(
    `create function refuse() returns trigger language plpgsql as $$ begin raise 'locked' using errcode = '55P03'; end $$`,
  );
  try {
    running(async (task, control) => {
      if (tried++ > 0) return bringIt(task, control);
      await database().query('create trigger refusing before update on tasks execute function refuse()');
      throw new Error('it failed while its row was locked');
    });
    await until(async () => tried === 1);
    await sleep(300);
    expect((await stateOf(taskId)).state).toBe('running');
    await database().query('drop trigger refusing on tasks');
    await until(async () => (await stateOf(taskId)).state === 'done');
  } finally {
    await database().query('drop function refuse cascade');
  }
});

test('what a process that lost its database worked on waits again, as no fault of its own', async () => {
  const taskId = await begun();
  await database().query(
    `create function refuse() returns trigger language plpgsql as $$ begin raise 'away' using errcode = '57P03'; end $$`,
  );
  try {
    const runner = running(
      (_, { signal }) =>
        new Promise((_resolve, reject) =>
          signal.addEventListener('abort', () => reject(new Error('stopped'))),
        ),
    );
    await until(async () => (await stateOf(taskId)).state === 'running');
    await database().query('create trigger refusing before update on tasks execute function refuse()');
    const stopped = runner.stop(10_000);
    await sleep(500);
    expect((await stateOf(taskId)).state).toBe('running');
    await database().query('drop trigger refusing on tasks');
    await stopped;
    expect(await stateOf(taskId)).toMatchObject({ state: 'waiting', attempts: 0 });
  } finally {
    await database().query('drop function refuse cascade');
  }
});

test('what runs in nobody’s hands is given back by the process under whose number it runs', async () => {
  const taskId = await begun();
  // Taken, and the answer was lost on the way.
  await takeTask(RUNNER, BRINGING_KINDS);
  const runner = running(bringIt);
  await database().query(`select pg_advisory_lock(7341, ${RUNNER})`);
  await runner.sweep();
  expect((await stateOf(taskId)).state).toBe('running');
  await database().query(`update tasks set started_at = now() - interval '1 minute'`);
  await runner.sweep();
  await until(async () => (await stateOf(taskId)).state === 'done');
  await database().query(`select pg_advisory_unlock_all()`);
});

test('a file that ends its process each time is left out with a sentence; the others come in', async () => {
  const taskId = await begun();
  for (let tries = 1; tries <= MOST_ATTEMPTS; tries++) {
    const task = (await takeTask(RUNNER, BRINGING_KINDS))!;
    expect(await takeItem(task)).toMatchObject({ name: '1.wav', attempts: tries });
    await giveBack(task, 'the process that did it ended');
  }
  // It was the file's fault: the task has its tries still.
  expect(await stateOf(taskId)).toMatchObject({ state: 'waiting', attempts: 0 });
  running(bringIt);
  await until(async () => (await stateOf(taskId)).state === 'done');
  const [{ done, failed, faults }] = (await tasksNow()).tasks;
  expect([done, failed]).toEqual([2, 1]);
  expect(faults[0].fault).toBe('“1.wav” crashed its process 3 times; it was skipped.');
});
