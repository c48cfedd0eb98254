import { BRINGING_KINDS, MAKING_KINDS } from '@/contract/tasks';
import { log } from '@/server/log';
import { reportMeasuring } from '@/server/tasks';
import { bring, type BringingTask } from '@/server/tasks/bring';
import { eachItem } from '@/server/tasks/items';
import { finishMix } from '@/server/tasks/mix';
import { reportItem } from '@/store/longTasks';
import type { TakenTask } from '@/store/tasks';
import { logged } from './logged';
import type { Lane } from './taskRunner';
import type { MakingTask } from './threadMethods';
import { threadPool } from './threadPool';

/** How often progress is written, ms. */
const PROGRESS_EVERY = 250;

/** Calls `write` now and then; what cannot be written now is written the next time. `stop`: the task is no longer ours. */
function nowAndThen<A extends unknown[]>(write: (...args: A) => Promise<boolean>, stop: () => void) {
  let at = 0;
  return (...args: A) => {
    if (Date.now() - at < PROGRESS_EVERY) return;
    at = Date.now();
    write(...args).then((isOurs) => isOurs || stop(), logged);
  };
}

/**
 * What the tasks process does at once: `count` samples are measured in threads, one task after the other makes sound in a thread of
 * its own, and one brings files in, which are read and stored: the cores are for the threads.
 */
export function taskLanes(count: number): Lane[] {
  const measuring = threadPool(count, 2);
  const measureLane: Lane = {
    kinds: ['measure'],
    places: count,
    async run(task, control) {
      const measured = task as TakenTask<'measure'>;
      const report = (stage: string, share: number) => reportMeasuring(measured, stage, share);
      const tell = nowAndThen(report, () => control.abort());
      await measuring.run('measureSample', [measured], {
        signal: control.signal,
        onProgress: ({ stage, share }) => tell(stage, share),
      });
      log.info({ event: 'measured', sample: task.sampleId, task: task.taskId });
    },
  };

  let making = threadPool(1, 2);
  const makeLane: Lane = {
    kinds: MAKING_KINDS,
    places: 1,
    async run(task, control) {
      const made = task as MakingTask;
      try {
        await eachItem(
          task,
          control.signal,
          async (item) => {
            const all = item.byteLength ?? 1000;
            const report = (share: number) => reportItem(task, item.position, Math.round(share * all));
            const tell = nowAndThen(report, () => control.abort());
            await making.run('makeItem', [made, item.position, Number(item.path)], {
              signal: control.signal,
              onProgress: ({ share }) => tell(share),
            });
          },
          task.kind === 'mix' ? () => finishMix(task as TakenTask<'mix'>) : undefined,
        );
      } finally {
        // Lanes that were fitted are kept from one file of a mix to the next: they go with their threads.
        if (task.kind === 'mix') {
          await making.end();
          making = threadPool(1, 2);
        }
      }
    },
  };

  const bringLane: Lane = {
    kinds: BRINGING_KINDS,
    places: 1,
    run: (task, { signal }) => bring(task as BringingTask, signal),
  };
  return [measureLane, makeLane, bringLane];
}
