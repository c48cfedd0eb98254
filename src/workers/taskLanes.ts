import { availableParallelism } from 'node:os';
import { BRINGING_KINDS, MAKING_KINDS } from '@/contract/tasks';
import { log } from '@/server/log';
import { reportMeasuring } from '@/server/tasks';
import { bring, type BringingTask } from '@/server/tasks/bring';
import { eachItem } from '@/server/tasks/items';
import { finishMix } from '@/server/tasks/mix';
import { finishRender } from '@/server/tasks/render';
import { reportItem, type TakenItem } from '@/store/longTasks';
import type { TakenTask } from '@/store/tasks';
import { logged } from './logged';
import type { Lane } from './taskRunner';
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

/** What is left to do when all files of a task are made. */
async function finish(task: TakenTask): Promise<void> {
  if (task.kind === 'mix') await finishMix(task as TakenTask<'mix'>);
  if (task.kind === 'render') await finishRender(task as TakenTask<'render'>);
}

/** Tasks that make no more sound than this have a thread of their own, seconds. */
const QUICK_SECONDS = 120;
/** Files of one task that are made beside each other; each holds a whole sample and what is made of it. */
const SIDE_BY_SIDE = Math.max(1, Math.min(3, availableParallelism()));

/** Makes sound, one task after the other: `places` of its files beside each other. */
function renderPlan(places: number): Lane {
  const threads = threadPool(places, 2);
  return {
    kinds: MAKING_KINDS,
    places: 1,
    async run(task, control) {
      const { signal } = control;
      // Lanes that were fitted are kept from one file of a mix to the next: they go with their thread.
      const mixing = task.kind === 'mix' ? threadPool(1, 2) : null;
      const doItem = async (item: TakenItem) => {
        const all = item.byteLength ?? 1000;
        const report = (share: number) => reportItem(task, item.position, Math.round(share * all));
        const tell = nowAndThen(report, () => control.abort());
        const how = { signal, onProgress: ({ share }: { share: number }) => tell(share) };
        const index = Number(item.path);
        if (!mixing) return threads.run('makeItem', [task as RenderOrPack, item.position, index], how);
        const mix = task as TakenTask<'mix'>;
        // One is measured while the next is mixed.
        const mixed = await mixing.run('writeMixed', [mix, index], how);
        return threads.run('keepMix', [mix, item.position, index, mixed], how);
      };
      try {
        const beside = isLong(task) || isInOrder(task) ? 1 : places;
        await eachItem(task, signal, doItem, () => finish(task), mixing ? beside + 1 : beside);
      } finally {
        await mixing?.end();
      }
    },
  };
}

/** Files of so much sound are made one after the other, seconds: memory for two of them is not everywhere. */
const LONG_SECONDS = 900;

function isLong(task: TakenTask): boolean {
  const { payload } = task as TakenTask<'render'> | TakenTask<'mix'> | TakenTask<'pack'>;
  const files =
    'recipes' in payload ? payload.recipes : 'outcomes' in payload ? payload.outcomes : payload.lines;
  return task.cost / files.length > LONG_SECONDS;
}

/** What goes straight into a pack lies there in the order in which it was asked for. */
const isInOrder = ({ payload }: TakenTask) => 'packId' in payload && payload.packId !== null;

type RenderOrPack = TakenTask<'render'> | TakenTask<'pack'>;

/**
 * What the tasks process does at once: `count` samples are measured in threads, one short and one long task make sound in threads of
 * their own, and one brings files in, which are read and stored: the cores are for the threads.
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

  // A task that makes little sound passes those that make much.
  const quickLane: Lane = { ...renderPlan(1), mostCost: QUICK_SECONDS };
  const makeLane = renderPlan(SIDE_BY_SIDE);

  const bringLane: Lane = {
    kinds: BRINGING_KINDS,
    places: 1,
    run: (task, { signal }) => bring(task as BringingTask, signal),
  };
  return [measureLane, quickLane, makeLane, bringLane];
}
