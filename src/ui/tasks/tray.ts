import type { LongKind, LongTask } from '@/contract/tasks';

/** What has finished goes from the tray by itself after this, ms. */
const KEPT = 3600_000;

/** Tasks as the tray shows them, the newest first in each list. */
export interface Tray {
  going: LongTask[];
  /** Something of them did not come to pass: they stay until somebody clears them. */
  failed: LongTask[];
  /** Finished lately, by kind. */
  ended: { kind: LongKind; tasks: LongTask[] }[];
  /** How many have finished. */
  count: number;
}

/** Sorts tasks for the tray. `now`: ms since 1970. */
export function trayOf(tasks: readonly LongTask[], now: number): Tray {
  const newest = tasks.toSorted((a, b) => b.taskId - a.taskId);
  const isGoing = ({ state }: LongTask) => ['running', 'waiting', 'paused'].includes(state);
  const hasFailed = ({ state, failed, fault }: LongTask) =>
    state === 'failed' || failed > 0 || fault !== null;
  const over = newest.filter(
    (task) =>
      !isGoing(task) && !hasFailed(task) && (task.endedAt === null || now - Date.parse(task.endedAt) < KEPT),
  );
  const kinds = [...new Set(over.map(({ kind }) => kind))];
  return {
    going: newest.filter(isGoing),
    failed: newest.filter((task) => !isGoing(task) && hasFailed(task)),
    ended: kinds.map((kind) => ({ kind, tasks: over.filter((task) => task.kind === kind) })),
    count: over.length,
  };
}
