import { Worker } from 'node:worker_threads';
import { log } from '@/server/log';
import { database } from '@/store/database';
import { endItem, reportItem, takeItem, type TakenItem } from '@/store/longTasks';
import { announceTasks } from '@/store/notifications';
import { endTask, releaseTask, takeTask } from '@/store/tasks';
import { logged } from './logged';
import { MAKING_KINDS } from '@/core/library/tasks';
import type { FromRenderThread, MakingTask, ToRenderThread } from './renderThread';

/** How often progress is written, ms. */
const PROGRESS_EVERY = 300;
/** Tries of one file before it is given up where it is no fault of its recipe. */
const MOST_TRIES = 3;

class StoppedError extends Error {}

export interface RenderingThread {
  /** Goes on with what waits. */
  dispatch: () => void;
  stop: () => Promise<void>;
}

/** One thread that makes derived samples, a task after another, beside measuring and bringing in. */
export function renderingThread(runner: number): RenderingThread {
  let thread: Worker | null = null;
  let held: MakingTask | null = null;
  let stopping = false;
  let running: Promise<unknown> | null = null;

  const begun = () => {
    thread ??= new Worker(new URL('./renderThread.mjs', import.meta.url), {
      env: { ...process.env, GRENTO_POOL: '2' },
    }).on('exit', () => (thread = null));
    return thread;
  };
  const end = async () => {
    await thread?.terminate();
    thread = null;
  };

  /** Has one file made; `isMine` false: the task was paused, cancelled or taken meanwhile, and the computation ends. */
  const make = (task: MakingTask, item: TakenItem) =>
    new Promise<void>((resolve, reject) => {
      const worker = begun();
      let reportedAt = 0;
      const hear = (message: FromRenderThread) => {
        if (message.kind === 'progress') {
          if (Date.now() - reportedAt < PROGRESS_EVERY) return;
          reportedAt = Date.now();
          const received = Math.round(message.share * (item.byteLength ?? 1000));
          reportItem(task, item.position, received).then(
            (isMine) => {
              if (isMine && !stopping) return;
              settle(() => reject(new StoppedError()));
              void end();
            },
            // What cannot be told now is told the next time.
            () => {},
          );
          return;
        }
        settle(() => {
          if (message.kind === 'done') return resolve();
          const { message: words, stack, isHopeless } = message;
          reject(Object.assign(new Error(words), { stack, isHopeless }));
        });
      };
      const died = () => settle(() => reject(new Error('the thread that made it ended')));
      const settle = (then: () => void) => {
        worker.off('message', hear).off('exit', died).off('error', died);
        then();
      };
      worker.on('message', hear).on('exit', died).on('error', died);
      worker.postMessage({
        task,
        position: item.position,
        index: Number(item.path),
      } satisfies ToRenderThread);
    });

  const doTask = async (task: MakingTask) => {
    for (;;) {
      const item = stopping ? null : await takeItem(task);
      if (!item) break;
      for (let tries = 1; ; tries++) {
        try {
          await make(task, item);
          await announceTasks(database());
          break;
        } catch (error) {
          if (stopping || error instanceof StoppedError) return;
          const { message, isHopeless = false } = error as Error & { isHopeless?: boolean };
          log.error({ event: 'render failed', task: task.taskId, name: item.name, message, tries });
          // Paused or cancelled meanwhile.
          if (!(await reportItem(task, item.position, 0))) return;
          if (!isHopeless && tries < MOST_TRIES) continue;
          const words = isHopeless
            ? message
            : `“${item.name}” could not be made: ${message}. It was tried ${tries} times; nothing of it was kept.`;
          await endItem(task, item.position, { fault: words });
          await announceTasks(database());
          break;
        }
      }
    }
    if (!stopping && (await endTask(database(), task, null)))
      log.info({ event: 'task done', task: task.taskId, kind: task.kind });
    await announceTasks(database());
  };

  const doAll = async () => {
    while (!stopping) {
      const task = (await takeTask(runner, MAKING_KINDS)) as MakingTask | null;
      if (!task) return;
      held = task;
      await doTask(task);
      if (!stopping) held = null;
    }
  };
  return {
    dispatch() {
      if (stopping || running) return;
      running = doAll()
        .catch(logged)
        .finally(() => (running = null));
    },
    async stop() {
      stopping = true;
      await end();
      if (held) await releaseTask(held).catch(logged);
    },
  };
}
