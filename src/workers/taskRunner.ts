import { setTimeout as sleep } from 'node:timers/promises';
import pRetry from 'p-retry';
import type { TaskKind } from '@/contract/tasks';
import { log } from '@/server/log';
import { giveBack, reclaim } from '@/server/tasks';
import { isTrouble } from '@/server/tasks/trouble';
import {
  leasesThatHold,
  releaseTask,
  sumCounts,
  takeTask,
  UnreadableTaskError,
  type TakenTask,
} from '@/store/tasks';
import { logged } from './logged';

/** Some kinds of tasks, how many of them run at once, and what runs one to its end. */
export interface Lane {
  kinds: readonly TaskKind[];
  /** Only tasks that make no more sound than so much, seconds; null: any. */
  mostCost?: number;
  places: number;
  /**
   * Does a task and ends it, in the transaction that writes what came of it. `control` is aborted when the task was paused, cancelled or
   * taken by another process, or when this one stops; whoever notices that first may abort it.
   */
  run: (task: TakenTask, control: AbortController) => Promise<void>;
}

/** Rests after trouble that is no fault of a task, longer and longer, ms. */
const RESTS = [200, 500, 2000, 8000, 30_000];
/** So long a running task may take to stop when the process ends, ms. */
const FAREWELL = 4000;

/**
 * Runs the tasks of a process: each is claimed, run and, whatever came of it, let go. What cannot be let go at once (the
 * database is away) is tried until it can. `runner`: the number under which this process claims.
 */
export function taskRunner(runner: number, lanes: readonly Lane[]) {
  const held = new Map<number, AbortController>();
  const working = new Set<Promise<void>>();
  const state = lanes.map(() => ({ busy: 0, isAsking: false, asksAgain: false, troubles: 0, restUntil: 0 }));
  let stopping = false;
  /** Until then is tried to let go of what was stopped, ms since 1970. */
  let patience = 0;

  /** The next task of a lane, or null. One that cannot be read is given back, which counts as tried. */
  const next = async ({ kinds, mostCost = Infinity }: Lane): Promise<TakenTask | null> => {
    for (;;)
      try {
        return await takeTask(runner, kinds, mostCost === Infinity ? null : mostCost);
      } catch (error) {
        if (!(error instanceof UnreadableTaskError)) throw error;
        log.error({ event: 'task not readable', task: error.task.taskId, err: error });
        await giveBack(error.task, error.message);
      }
  };

  const runOne = async (task: TakenTask, lane: Lane, i: number) => {
    const control = new AbortController();
    held.set(task.lease, control);
    if (stopping) control.abort();
    let failure: unknown = null;
    const about = { task: task.taskId, kind: task.kind, sample: task.sampleId };
    try {
      await lane.run(task, control);
      state[i].troubles = 0;
    } catch (error) {
      failure = error;
      if (!control.signal.aborted) log.error({ event: 'task failed', ...about, err: error });
    } finally {
      const isOurs = control.signal.aborted || isTrouble(failure);
      if (isOurs && !control.signal.aborted) restOf(i);
      // Nothing happens to a task that ended, or is another's by now.
      const letGo = () =>
        isOurs
          ? releaseTask(task)
          : giveBack(task, failure instanceof Error ? failure.message : 'it did not finish');
      const shouldRetry = () => !stopping || Date.now() < patience;
      await pRetry(letGo, { retries: 1000, minTimeout: 300, maxTimeout: 5000, shouldRetry }).catch(logged);
      held.delete(task.lease);
    }
  };

  const restOf = (i: number) => {
    const rest = RESTS[Math.min(state[i].troubles++, RESTS.length - 1)];
    state[i].restUntil = Date.now() + rest;
    setTimeout(() => void claim(lanes[i], i), rest + 1).unref();
  };

  /** Claims tasks for the free places of a lane, one after the other, until there are none. */
  const claim = async (lane: Lane, i: number): Promise<void> => {
    const now = state[i];
    if (now.isAsking) {
      now.asksAgain = true;
      return;
    }
    now.isAsking = true;
    try {
      while (!stopping && now.busy < lane.places && Date.now() >= now.restUntil) {
        now.asksAgain = false;
        const task = await next(lane);
        if (!task) {
          if (now.asksAgain) continue;
          break;
        }
        now.busy++;
        const run = runOne(task, lane, i).finally(() => {
          now.busy--;
          working.delete(run);
          look();
        });
        working.add(run);
      }
    } catch (error) {
      logged(error);
      restOf(i);
    } finally {
      now.isAsking = false;
    }
  };

  /** Looks for work for all places that are free. */
  function look() {
    if (!stopping) for (const [i, lane] of lanes.entries()) void claim(lane, i);
  }

  return {
    look,
    /** Gives back what is nobody's, stops what is no longer ours, and looks for work. Call it every few seconds. */
    async sweep() {
      const leases = [...held.keys()];
      await reclaim(runner, leases);
      await sumCounts();
      const holding = await leasesThatHold(leases);
      for (const lease of leases) if (!holding.has(lease)) held.get(lease)?.abort();
      look();
    },
    /** Stops what runs and gives it back; it does not count as tried. `within`: for so long, ms, where the database is away. */
    async stop(within = FAREWELL) {
      stopping = true;
      patience = Date.now() + within;
      for (const control of held.values()) control.abort();
      await Promise.race([Promise.all(working), sleep(within, null, { ref: false })]);
    },
  };
}
