import { parentPort } from 'node:worker_threads';
import { z } from 'zod';
import { measureSample } from '@/server/measureSample';
import type { ClaimedJob } from '@/store/jobs';

/** What the measuring process tells its threads, and what they answer. */
export type ToThread = { job: ClaimedJob; runner: number };
export type FromThread =
  | { kind: 'progress'; jobId: number; stage: string; progress: number }
  | { kind: 'done'; jobId: number }
  | { kind: 'failed'; jobId: number; message: string; stack: string };

const port = parentPort;
if (!port) throw new Error('the measuring thread runs inside the measuring process');
const answer = (message: FromThread) => port.postMessage(message);

port.on('message', async ({ job, runner }: ToThread) => {
  try {
    await measureSample(job, runner, (stage, progress) =>
      answer({ kind: 'progress', jobId: job.jobId, stage, progress }),
    );
    answer({ kind: 'done', jobId: job.jobId });
  } catch (error) {
    const message =
      error instanceof z.ZodError
        ? z.prettifyError(error)
        : error instanceof Error
          ? error.message
          : String(error);
    answer({
      kind: 'failed',
      jobId: job.jobId,
      message,
      stack: error instanceof Error ? (error.stack ?? '') : '',
    });
  }
});
