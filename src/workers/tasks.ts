import { availableParallelism, setPriority } from 'node:os';
import pg from 'pg';
import { log } from '@/server/log';
import { sayRowsAnew } from '@/server/rowsAnew';
import { sweep } from '@/server/sweep';
import { reclaim } from '@/server/tasks';
import { closeDatabase, databaseUrl } from '@/store/database';
import { listenToTasks } from '@/store/notifications';
import { holdRunner } from '@/store/tasks';
import { logged } from './logged';
import { taskLanes } from './taskLanes';
import { taskRunner } from './taskRunner';
import { placeWatcher } from './watchPlaces';

/** How often abandoned tasks are looked for, ms. */
const SWEEP_EVERY = 3_000;
/** How often it is looked for what nobody needs any more, ms. */
const CLEAN_EVERY = 10 * 60_000;
/** So long is waited for a database that is away, ms. */
const DATABASE_COMES_BACK = 20_000;
/** Measuring yields to the interface on the same cores. */
const NICE = 5;

/**
 * The process that does tasks (`taskLanes`: which, and how many at once). Several such processes, on several hosts, share one
 * queue: a process that dies loses its advisory lock, and any other one gives its tasks back.
 */
async function main() {
  // One more than cores: while one waits for the database another computes. Behind the web server, in all.
  const count = Math.max(1, Number(process.env.GRENTO_THREADS ?? availableParallelism() + 1));
  setPriority(NICE);
  const holder = new pg.Client({ connectionString: databaseUrl() });
  let lost: (error: Error) => void = () => process.exit(1);
  holder.on('error', (error) => lost(error));
  await holder.connect();
  const runner = await holdRunner(holder);
  // What was done under this number belongs to a process that is gone: a living one would hold the lock.
  await reclaim(runner, null);

  const runs = taskRunner(runner, taskLanes(count));
  // Without its lock another process may take the tasks: everything stops, and what was worked on is given back as soon as the database is
  // there again, as no fault of its own; then the starter begins again.
  lost = (error) => {
    lost = () => {};
    log.error({ event: 'connection lost', err: error });
    void runs.stop(DATABASE_COMES_BACK).finally(() => process.exit(1));
  };
  const watcher = placeWatcher(holder);
  const listener = listenToTasks(runs.look);
  const looking = setInterval(() => {
    runs.sweep().catch(logged);
    watcher.renew().catch(logged);
  }, SWEEP_EVERY);
  log.info({ event: 'tasks process ready', runner, threads: count });
  const clean = () => void sweep().catch(logged);
  const cleaning = setInterval(clean, CLEAN_EVERY);
  clean();
  runs.look();
  watcher.renew().catch(logged);

  let stopping = false;
  sayRowsAnew(() => stopping)
    .then((said) => said > 0 && log.info({ event: 'rows said anew', said }))
    .catch(logged);
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    clearInterval(looking);
    clearInterval(cleaning);
    await watcher.close();
    await listener.close();
    await runs.stop();
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
