import pLimit from 'p-limit';
import { database } from '@/store/database';
import { endItem, reportItem, takeItem, type TakenItem } from '@/store/longTasks';
import { announceTasks } from '@/store/notifications';
import { endTask, MOST_ATTEMPTS, type TakenTask } from '@/store/tasks';
import { log } from '../log';
import { isRefusal, isTrouble } from './trouble';

/**
 * Does the files of a task, `places` of them beside each other, and ends the task. `doItem` ends its file itself, in the transaction that
 * writes what came of it. A file that fails is tried again, and after MOST_ATTEMPTS stands as failed with its reason; so does one that
 * ended its process so often. `finish` is done after the last of them, and may be done twice. Returns early when `signal` stops it, or the
 * task was paused, cancelled or taken by another process. Throws what is no fault of a file: the task is to be given back.
 */
export async function eachItem(
  task: TakenTask,
  signal: AbortSignal,
  doItem: (item: TakenItem) => Promise<void>,
  finish: () => Promise<void> = async () => {},
  places = 1,
): Promise<void> {
  const inHand = new Set<number>();
  /** No file is taken any more: somebody else has the task, or something is wrong beside its files. */
  let isOver = false;
  // One after the other: two that take at once would take the same.
  const taking = pLimit(1);
  const next = async () => {
    const item = signal.aborted || isOver ? null : await takeItem(task, [...inHand]);
    if (item) inHand.add(item.position);
    return item;
  };
  const oneByOne = async () => {
    for (;;) {
      const item = await taking(next);
      if (!item) return;
      try {
        isOver ||= !(await doOne(task, item, signal, doItem));
      } catch (error) {
        isOver = true;
        throw error;
      } finally {
        inHand.delete(item.position);
      }
      await announceTasks(database());
    }
  };
  // All come to rest before the task is given back.
  const ends = await Promise.allSettled(Array.from({ length: places }, oneByOne));
  const failed = ends.find((end) => end.status === 'rejected');
  if (failed) throw failed.reason;
  if (signal.aborted || isOver) return;
  await finish();
  if (await endTask(database(), task, null))
    log.info({ event: 'task done', task: task.taskId, kind: task.kind });
  await announceTasks(database());
}

/** Does one file; false when the task is no longer theirs. Throws what is no fault of the file. */
async function doOne(
  task: TakenTask,
  item: TakenItem,
  signal: AbortSignal,
  doItem: (item: TakenItem) => Promise<void>,
): Promise<boolean> {
  const { name, position, attempts } = item;
  const fail = (fault: string) => endItem(task, position, { fault });
  if (attempts > MOST_ATTEMPTS) {
    await fail(`“${name}” crashed its process ${MOST_ATTEMPTS} times; it was skipped.`);
    return true;
  }
  try {
    await doItem(item);
  } catch (error) {
    if (signal.aborted || isTrouble(error)) throw error;
    const { message, stack } = error as Error;
    log.error({ event: 'file of a task failed', task: task.taskId, name, message, stack, attempts });
    // Paused or cancelled meanwhile.
    if (!(await reportItem(task, position, null))) return false;
    if (isRefusal(error)) await fail(message);
    else if (attempts >= MOST_ATTEMPTS)
      await fail(`“${name}” failed: ${message}. Tried ${attempts} times; nothing was kept.`);
  }
  return true;
}
