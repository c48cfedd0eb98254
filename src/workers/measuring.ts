import { availableParallelism, setPriority } from 'node:os';
import { Worker } from 'node:worker_threads';
import pg from 'pg';
import { goNextErrand } from '@/server/errands';
import { log } from '@/server/log';
import { closeDatabase, databaseUrl } from '@/store/database';
import {
  claimJob,
  giveBackJob,
  holdRunner,
  releaseJob,
  reclaimAbandonedJobs,
  reportProgress,
  type ClaimedJob,
} from '@/store/jobs';
import { reclaimErrands, releaseErrands } from '@/store/errands';
import { listenToJobs } from '@/store/notifications';
import { clearInterruptedArrivals } from '@/store/originalBytes';
import type { FromThread, ToThread } from './measureThread';
import { placeWatcher } from './watchPlaces';

/** How often abandoned jobs are looked for, and how often progress is written, ms. */
const RECLAIM_EVERY = 3_000;
const PROGRESS_EVERY = 250;
/** How often it is looked for new errands, ms. */
const ERRANDS_EVERY = 500;
/** Measuring yields to the interface on the same cores. */
const NICE = 5;

interface Place {
  thread: Worker;
  job: ClaimedJob | null;
  reportedAt: number;
}

/**
 * The measuring process: as many threads as cores, each measuring one job at a time. A thread that dies
 * gives its job back and is replaced; a process that dies loses its advisory lock, and any other one gives
 * its jobs back.
 */
async function main() {
  // One more than cores: while one waits for the database another computes. Behind the web server, in all.
  const threads = Math.max(1, Number(process.env.GRENTO_THREADS ?? availableParallelism() + 1));
  setPriority(NICE);
  const holder = new pg.Client({ connectionString: databaseUrl() });
  holder.on('error', (error) => {
    // Without its lock another process may take the jobs: stop at once and let the starter begin anew.
    log.error({ event: 'connection lost', err: error });
    process.exit(1);
  });
  await holder.connect();
  const runner = await holdRunner(holder);
  const places: Place[] = [];
  let stopping = false;

  const startThread = (): Place => {
    const thread = new Worker(new URL('./measureThread.mjs', import.meta.url), {
      env: { ...process.env, GRENTO_POOL: '2' },
    });
    const place: Place = { thread, job: null, reportedAt: 0 };
    thread.on('message', (message: FromThread) => void hear(place, message));
    thread.on('error', (error) =>
      log.error({ event: 'measuring thread failed', err: error, sample: place.job?.sampleId }),
    );
    thread.on('exit', () => {
      if (stopping) return;
      const { job } = place;
      places[places.indexOf(place)] = startThread();
      if (job) giveBackJob(job.jobId, 'its thread died').catch(logged).finally(dispatch);
      else dispatch();
    });
    return place;
  };

  const hear = async (place: Place, message: FromThread) => {
    const { job } = place;
    if (!job || job.jobId !== message.jobId) return;
    if (message.kind === 'progress') {
      if (Date.now() - place.reportedAt < PROGRESS_EVERY) return;
      place.reportedAt = Date.now();
      const wanted = await reportProgress(job, runner, message.stage, message.progress).catch(() => true);
      // Cancelled meanwhile: the only way to stop a computation in a thread is to end the thread.
      if (!wanted && place.job === job) {
        place.job = null;
        await place.thread.terminate();
      }
      return;
    }
    place.job = null;
    if (message.kind === 'done') log.info({ event: 'measured', sample: job.sampleId, job: job.jobId });
    else {
      log.error({
        event: 'measuring failed',
        sample: job.sampleId,
        message: message.message,
        stack: message.stack,
      });
      await giveBackJob(job.jobId, message.message).catch(logged);
    }
    dispatch();
  };

  let dispatching = false;
  let again = false;
  const dispatch = async () => {
    if (dispatching) {
      again = true;
      return;
    }
    dispatching = true;
    do {
      again = false;
      for (const place of places) {
        if (stopping || place.job) continue;
        const job = await claimJob(runner).catch(logged);
        if (!job) break;
        place.job = job;
        place.reportedAt = 0;
        place.thread.postMessage({ job, runner } satisfies ToThread);
      }
    } while (again);
    dispatching = false;
  };

  // Errands go one after another beside the measuring: they read and store, the cores are for the threads.
  const leaving = new AbortController();
  let errandRuns = false;
  const errands = async () => {
    if (errandRuns) return;
    errandRuns = true;
    try {
      while (!leaving.signal.aborted && (await goNextErrand(runner, leaving.signal)));
    } catch (error) {
      logged(error);
    } finally {
      errandRuns = false;
    }
  };
  const watcher = placeWatcher();

  for (let i = 0; i < threads; i++) places.push(startThread());
  const listener = listenToJobs(() => void dispatch());
  const sweep = setInterval(() => {
    reclaimAbandonedJobs().catch(logged);
    reclaimErrands().catch(logged).finally(errands);
    watcher.renew().catch(logged);
    void dispatch();
  }, RECLAIM_EVERY);
  const errandsLook = setInterval(() => void errands(), ERRANDS_EVERY);
  await reclaimAbandonedJobs();
  const cleared = await clearInterruptedArrivals();
  log.info({ event: 'measuring process ready', runner, threads, clearedArrivals: cleared });
  void dispatch();
  void errands();
  watcher.renew().catch(logged);

  const stop = async () => {
    if (stopping) return;
    stopping = true;
    clearInterval(sweep);
    clearInterval(errandsLook);
    leaving.abort();
    await watcher.close();
    await listener.close();
    await Promise.all(places.map(({ thread }) => thread.terminate()));
    for (const { job } of places) if (job) await releaseJob(job.jobId).catch(logged);
    await releaseErrands(runner).catch(logged);
    await holder.end();
    await closeDatabase();
    process.exit(0);
  };
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
  // The starter keeps this pipe open; when it is killed, nobody is left to stop this process.
  if (process.env.GRENTO_TIED) process.stdin.on('end', stop).resume();
}

function logged(error: unknown): null {
  log.error({ event: 'measuring process', err: error });
  return null;
}

await main();
