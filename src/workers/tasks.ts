import { availableParallelism, setPriority } from 'node:os';
import pg from 'pg';
import { BRINGING_KINDS } from '@/core/library/tasks';
import { log } from '@/server/log';
import { sayRowsAnew } from '@/server/rowsAnew';
import { reclaim } from '@/server/tasks';
import { bring } from '@/server/tasks/bring';
import { closeDatabase, databaseUrl } from '@/store/database';
import { listenToTasks } from '@/store/notifications';
import { clearInterruptedArrivals } from '@/store/originalBytes';
import { clearBinnedWritings } from '@/store/packWritings';
import { holdRunner, releaseTask, takeTask, type TakenTask } from '@/store/tasks';
import { logged } from './logged';
import { measuringThreads } from './measuringThreads';
import { renderingThread } from './renderingThread';
import { placeWatcher } from './watchPlaces';

/** How often abandoned tasks are looked for, ms. */
const RECLAIM_EVERY = 3_000;
/** Measuring yields to the interface on the same cores. */
const NICE = 5;

/**
 * The process that does tasks: samples are measured by as many threads as cores, files are brought in one task
 * after another beside them. Several such processes, on several hosts, share one queue: a process that dies loses its
 * advisory lock, and any other one gives its tasks back.
 */
async function main() {
  // One more than cores: while one waits for the database another computes. Behind the web server, in all.
  const count = Math.max(1, Number(process.env.GRENTO_THREADS ?? availableParallelism() + 1));
  setPriority(NICE);
  const holder = new pg.Client({ connectionString: databaseUrl() });
  holder.on('error', (error) => {
    // Without its lock another process may take the tasks: stop at once and let the starter begin anew.
    log.error({ event: 'connection lost', err: error });
    process.exit(1);
  });
  await holder.connect();
  const runner = await holdRunner(holder);
  // What was done under this number belongs to a process that is gone: a living one would hold the lock.
  await reclaim(runner);
  await reclaim();

  const threads = measuringThreads(count, runner);
  const renders = renderingThread(runner);
  const watcher = placeWatcher(holder);

  // Files come in one task after another beside the measuring: they are read and stored, the cores are for the threads.
  const leaving = new AbortController();
  let held: TakenTask | null = null;
  let bringing: Promise<void> | null = null;
  const bringAll = async () => {
    try {
      while (!leaving.signal.aborted) {
        const task = await takeTask(runner, BRINGING_KINDS);
        if (!task) return;
        held = task;
        await bring(task, leaving.signal);
        if (!leaving.signal.aborted) held = null;
      }
    } catch (error) {
      logged(error);
    }
  };
  const bringNext = () => {
    bringing ??= bringAll().finally(() => (bringing = null));
  };

  const look = () => {
    void threads.dispatch().catch(logged);
    renders.dispatch();
    bringNext();
  };
  const listener = listenToTasks(look);
  const sweep = setInterval(() => {
    reclaim().catch(logged).finally(look);
    watcher.renew().catch(logged);
  }, RECLAIM_EVERY);
  const cleared = await clearInterruptedArrivals();
  await clearBinnedWritings();
  log.info({ event: 'tasks process ready', runner, threads: count, clearedArrivals: cleared });
  look();
  watcher.renew().catch(logged);

  let stopping = false;
  sayRowsAnew(() => stopping)
    .then((said) => said > 0 && log.info({ event: 'rows said anew', said }))
    .catch(logged);
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    clearInterval(sweep);
    leaving.abort();
    await watcher.close();
    await listener.close();
    await Promise.all([threads.stop(), renders.stop()]);
    // What is coming in stops between two blocks; a line that hangs is left behind.
    await Promise.race([bringing, new Promise((resolve) => setTimeout(resolve, 2000))]);
    if (held) await releaseTask(held).catch(logged);
    await holder.end();
    await closeDatabase();
    process.exit(0);
  };
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
  // The starter keeps this pipe open; when it is killed, nobody is left to stop this process.
  if (process.env.GRENTO_TIED) process.stdin.on('end', stop).resume();
}

await main();
