import workerpool from 'workerpool';
import type { ThreadEvent, ThreadMethods } from './threadMethods';

/** The work was stopped from outside: its thread was ended. */
class StoppedError extends Error {
  override name = 'StoppedError';
}

/** A thread died before it began its work: no fault of what it was to do. */
class ThreadStartError extends Error {
  override name = 'ThreadStartError';
}

interface RunOptions {
  /** Ends the thread: the only way to stop a computation. */
  signal?: AbortSignal;
  onProgress?: (progress: { stage: string; share: number }) => void;
}

/** So long a thread that is to end may take for its own farewell, ms. */
const FAREWELL = 100;

/**
 * Up to `count` threads, begun when they are wanted, each doing one thing at a time; what waits, waits for a free one. Each has
 * `connections` connections to the database.
 */
export function threadPool(count: number, connections: number) {
  const pool = workerpool.pool(new URL('./taskThread.mjs', import.meta.url).pathname, {
    workerType: 'thread',
    maxWorkers: count,
    workerTerminateTimeout: FAREWELL,
    workerThreadOpts: { env: { ...process.env, GRENTO_POOL: String(connections) } },
  });
  return {
    /**
     * Runs a method in a thread. Throws what it throws, with its name and message; StoppedError when `signal` ended it;
     * ThreadStartError when the thread died before it began.
     */
    async run<M extends keyof ThreadMethods>(
      method: M,
      args: Parameters<ThreadMethods[M]>,
      { signal, onProgress }: RunOptions = {},
    ): Promise<Awaited<ReturnType<ThreadMethods[M]>>> {
      if (signal?.aborted) throw new StoppedError();
      let begun = false;
      const running = pool.exec(method, args, {
        on: (event: ThreadEvent) => {
          if (event.kind === 'begun') begun = true;
          else onProgress?.(event);
        },
      });
      const stop = () => void running.cancel();
      signal?.addEventListener('abort', stop, { once: true });
      try {
        return await running;
      } catch (error) {
        if (signal?.aborted) throw new StoppedError();
        if (!begun) throw new ThreadStartError((error as Error).message, { cause: error });
        if (/^Workerpool Worker/.test((error as Error).message))
          throw new Error('its thread crashed', { cause: error });
        throw error;
      } finally {
        signal?.removeEventListener('abort', stop);
      }
    },
    /** Ends all threads at once. */
    async end(): Promise<void> {
      await Promise.resolve(pool.terminate(true)).catch(() => {});
    },
  };
}
