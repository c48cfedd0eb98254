import { Worker } from 'node:worker_threads';
import { UndecodableError } from '@/core/formats/audioFormat';
import type { FitLane } from '@/server/tasks/fitLane';
import type { FromLaneThread, ToLaneThread } from './laneThread';

/** A thread that had nothing to do for so long ends, ms. */
const IDLE = 20_000;

/** Threads that fit lanes beside each other, begun when they are wanted: each lane waits for the next that is free. */
export function laneThreads(count: number): FitLane {
  /** Threads that rest, and what ends them. */
  const idle = new Map<Worker, NodeJS.Timeout>();
  const waiting: (() => void)[] = [];
  let busy = 0;

  const forget = (worker: Worker) => {
    clearTimeout(idle.get(worker));
    idle.delete(worker);
  };
  const begun = () => {
    const [rested] = idle.keys();
    if (rested) {
      forget(rested);
      return rested;
    }
    const worker = new Worker(new URL('./laneThread.mjs', import.meta.url), {
      env: { ...process.env, GRENTO_POOL: '1' },
    });
    // One that ends while it rests is not asked again.
    return worker.on('exit', () => forget(worker)).on('error', () => forget(worker));
  };
  const rest = (worker: Worker) =>
    idle.set(
      worker,
      setTimeout(() => void worker.terminate(), IDLE),
    );

  return async (lane, rate, onProgress) => {
    if (busy >= count) await new Promise<void>((resolve) => waiting.push(resolve));
    busy++;
    const worker = begun();
    try {
      const fits = await fittedBy(worker, { lane, rate }, onProgress);
      rest(worker);
      return fits;
    } catch (error) {
      void worker.terminate();
      throw error;
    } finally {
      busy--;
      waiting.shift()?.();
    }
  };
}

/** Has a thread that rests fit a lane. It is left as it was found: with none of our listeners, which are taken off one by one. */
function fittedBy(worker: Worker, asked: ToLaneThread, onProgress: (share: number) => void) {
  return new Promise<Float32Array[][]>((resolve, reject) => {
    const settle = (then: () => void) => {
      worker.off('message', hear).off('error', fail).off('exit', died);
      then();
    };
    const hear = (message: FromLaneThread) => {
      if (message.kind === 'progress') onProgress(message.share);
      else if (message.kind === 'fitted') settle(() => resolve(message.fits));
      else fail(message.isHopeless ? new UndecodableError(message.message) : new Error(message.message));
    };
    const fail = (error: Error) => settle(() => reject(error));
    const died = () => fail(new Error('the thread that fitted it ended'));
    worker.on('message', hear).on('error', fail).on('exit', died);
    worker.postMessage(asked);
  });
}
