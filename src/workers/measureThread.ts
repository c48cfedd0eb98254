import { parentPort } from 'node:worker_threads';
import { measure } from '@/server/tasks/measure';
import type { TakenTask } from '@/store/tasks';

/** What the process tells its measuring threads, and what they answer. */
export type ToThread = { task: TakenTask<'measure'> };
export type FromThread =
  /** Everything is loaded: it was no fault of a file if it dies before. */
  | { kind: 'ready' }
  | { kind: 'progress'; lease: number; stage: string; progress: number }
  | { kind: 'done'; lease: number }
  | { kind: 'failed'; lease: number; message: string; stack: string };

const port = parentPort;
if (!port) throw new Error('the measuring thread runs inside the tasks process');
const answer = (message: FromThread) => port.postMessage(message);

port.on('message', async ({ task }: ToThread) => {
  const { lease } = task;
  try {
    await measure(task, (stage, progress) => answer({ kind: 'progress', lease, stage, progress }));
    answer({ kind: 'done', lease });
  } catch (error) {
    const message = error instanceof Error ? error.message : String(error);
    answer({ kind: 'failed', lease, message, stack: error instanceof Error ? (error.stack ?? '') : '' });
  }
});
answer({ kind: 'ready' });
