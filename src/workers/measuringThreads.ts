import { Worker } from 'node:worker_threads';
import { log } from '@/server/log';
import { giveBack, reportMeasuring } from '@/server/tasks';
import { releaseTask, takeTask, type TakenTask } from '@/store/tasks';
import type { FromThread, ToThread } from './measureThread';
import { logged } from './logged';

/** How often progress is written, ms. */
const PROGRESS_EVERY = 250;
/** Rests before a thread that died before it was ready is started again: longer and longer ones, ms. */
const RESTS = [0, 500, 2000, 8000, 30_000];

interface Place {
  thread: Worker | null;
  task: TakenTask<'measure'> | null;
  isReady: boolean;
  reportedAt: number;
  /** Starts in a row that came to nothing. */
  failures: number;
}

export interface MeasuringThreads {
  /** Hands waiting samples to threads that rest. */
  dispatch: () => Promise<void>;
  stop: () => Promise<void>;
}

/** So many threads, each measuring one sample at a time. One that dies gives its task back and is replaced. */
export function measuringThreads(count: number, runner: number): MeasuringThreads {
  let stopping = false;
  const places: Place[] = Array.from({ length: count }, () => ({
    thread: null,
    task: null,
    isReady: false,
    reportedAt: 0,
    failures: 0,
  }));

  const start = (place: Place) => {
    if (stopping) return;
    const thread = new Worker(new URL('./measureThread.mjs', import.meta.url), {
      env: { ...process.env, GRENTO_POOL: '2' },
    });
    Object.assign(place, { thread, isReady: false });
    thread.on('message', (message: FromThread) => void hear(place, message).catch(logged));
    thread.on('error', (error) =>
      log.error({ event: 'measuring thread failed', err: error, sample: place.task?.sampleId }),
    );
    thread.on('exit', () => {
      if (stopping) return;
      const { task, isReady } = place;
      place.failures = isReady ? 0 : place.failures + 1;
      Object.assign(place, { thread: null, task: null, isReady: false });
      const rest = RESTS[Math.min(place.failures, RESTS.length - 1)];
      if (rest > 0)
        log.error({ event: 'measuring thread died at its start', failures: place.failures, rest });
      setTimeout(() => start(place), rest);
      if (task) giveBack(task, 'its thread died').catch(logged);
    });
  };

  const hear = async (place: Place, message: FromThread) => {
    if (message.kind === 'ready') {
      place.isReady = true;
      place.failures = 0;
      return dispatch();
    }
    const { task } = place;
    if (!task || task.lease !== message.lease) return;
    if (message.kind === 'progress') {
      if (Date.now() - place.reportedAt < PROGRESS_EVERY) return;
      place.reportedAt = Date.now();
      const held = await reportMeasuring(task, message.stage, message.progress).catch(() => true);
      // Cancelled meanwhile: the only way to stop a computation in a thread is to end the thread.
      if (!held && place.task === task) {
        place.task = null;
        await place.thread?.terminate();
      }
      return;
    }
    place.task = null;
    if (message.kind === 'done') log.info({ event: 'measured', sample: task.sampleId, task: task.taskId });
    else {
      const { message: words, stack } = message;
      log.error({ event: 'measuring failed', sample: task.sampleId, message: words, stack });
      await giveBack(task, words).catch(logged);
    }
    await dispatch();
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
        if (stopping || place.task || !place.thread || !place.isReady) continue;
        const task = await takeTask(runner, ['measure']).catch(logged);
        if (!task) break;
        // It may have died while the task was taken.
        if (!place.thread) {
          await releaseTask(task).catch(logged);
          continue;
        }
        place.task = task;
        place.reportedAt = 0;
        place.thread.postMessage({ task } satisfies ToThread);
      }
    } while (again);
    dispatching = false;
  };

  places.forEach(start);
  return {
    dispatch,
    async stop() {
      stopping = true;
      const held = places.flatMap(({ task }) => task ?? []);
      await Promise.all(places.map(({ thread }) => thread?.terminate()));
      for (const task of held) await releaseTask(task).catch(logged);
    },
  };
}
