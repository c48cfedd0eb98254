import { database } from '@/store/database';
import { endItem, reportItem, takeItem, type TakenItem } from '@/store/longTasks';
import { announceTasks } from '@/store/notifications';
import { endTask, MOST_ATTEMPTS, type TakenTask } from '@/store/tasks';
import { log } from '../log';
import { isRefusal, isTrouble } from './trouble';

/**
 * Does the files of a task one after the other, and ends the task. `doItem` ends its file itself, in the transaction that writes what
 * came of it. A file that fails is tried again, and after MOST_ATTEMPTS stands as failed with its reason; so does one that ended its
 * process so often. `finish` is done after the last of them, and may be done twice. Returns early when `signal` stops it, or the task was paused, cancelled or taken by another process. Throws
 * what is no fault of a file: the task is to be given back.
 */
export async function eachItem(
  task: TakenTask,
  signal: AbortSignal,
  doItem: (item: TakenItem) => Promise<void>,
  finish: () => Promise<void> = async () => {},
): Promise<void> {
  for (;;) {
    const item = signal.aborted ? null : await takeItem(task);
    if (!item) break;
    const { name, position, attempts } = item;
    const fail = (fault: string) => endItem(task, position, { fault });
    if (attempts > MOST_ATTEMPTS)
      await fail(`“${name}” ended the process that worked on it ${MOST_ATTEMPTS} times; it was left out.`);
    else
      try {
        await doItem(item);
      } catch (error) {
        if (signal.aborted || isTrouble(error)) throw error;
        const { message, stack } = error as Error;
        log.error({ event: 'file of a task failed', task: task.taskId, name, message, stack, attempts });
        // Paused or cancelled meanwhile.
        if (!(await reportItem(task, position, null))) return;
        if (isRefusal(error)) await fail(message);
        else if (attempts >= MOST_ATTEMPTS)
          await fail(`“${name}” failed: ${message}. It was tried ${attempts} times; nothing of it was kept.`);
      }
    await announceTasks(database());
  }
  if (signal.aborted) return;
  await finish();
  if (await endTask(database(), task, null))
    log.info({ event: 'task done', task: task.taskId, kind: task.kind });
  await announceTasks(database());
}
