import { availableParallelism } from 'node:os';
import workerpool from 'workerpool';
import { laneFitted, type FitLane, type LaneToFit } from '@/server/tasks/fitLane';
import { measure } from '@/server/tasks/measure';
import { mix } from '@/server/tasks/mix';
import { packSample } from '@/server/tasks/pack';
import { render } from '@/server/tasks/render';
import type { TakenTask } from '@/store/tasks';
import { threadPool, type ThreadEvent } from './threadPool';

/** A task that makes sound. */
export type MakingTask = TakenTask<'render'> | TakenTask<'mix'> | TakenTask<'pack'>;

/** Each holds a whole sample and what is made of it. */
const MOST_LANE_THREADS = 4;

const tell = (event: ThreadEvent) => workerpool.workerEmit(event);

/** Fits lanes of a blend side by side where there are cores for it. */
const cores = availableParallelism();
let lanes: ReturnType<typeof threadPool> | null = null;
const fitLane: FitLane = (lane, rate, onProgress) => {
  if (cores === 1) return laneFitted(lane, rate, onProgress);
  lanes ??= threadPool(Math.min(cores, MOST_LANE_THREADS), 1);
  return lanes.run('fitOneLane', [lane, rate], { onProgress: ({ share }) => onProgress(share) });
};

/** What a thread of the tasks process can do. Each method tells that it has begun, then how far it is. */
const methods = {
  async measureSample(task: TakenTask<'measure'>): Promise<void> {
    tell({ kind: 'begun' });
    await measure(task, (stage, share) => tell({ kind: 'progress', stage, share }));
  },
  /** `index`: of the recipe, the outcome, or the sample of the pack. */
  async makeItem(task: MakingTask, position: number, index: number): Promise<void> {
    tell({ kind: 'begun' });
    const onProgress = (share: number) => tell({ kind: 'progress', stage: '', share });
    if (task.kind === 'mix') return mix(task as TakenTask<'mix'>, position, index, onProgress, fitLane);
    if (task.kind === 'pack') return packSample(task as TakenTask<'pack'>, position, index, onProgress);
    const { payload } = task as TakenTask<'render'>;
    return render(task as TakenTask<'render'>, position, payload.recipes[index], onProgress);
  },
  async fitOneLane(lane: LaneToFit, rate: number): Promise<Float32Array[][]> {
    tell({ kind: 'begun' });
    const fits = await laneFitted(lane, rate, (share) => tell({ kind: 'progress', stage: '', share }));
    // Parts that are alike share what was made.
    const buffers = new Set(fits.flat().map((channel) => channel.buffer as ArrayBuffer));
    return new workerpool.Transfer(fits, [...buffers]) as unknown as Float32Array[][];
  },
};
export type ThreadMethods = typeof methods;

workerpool.worker(methods);
