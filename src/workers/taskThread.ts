import { availableParallelism } from 'node:os';
import workerpool from 'workerpool';
import { laneFitted, type FitLane } from '@/server/tasks/fitLane';
import { measure } from '@/server/tasks/measure';
import { keepMix, writeMixed } from '@/server/tasks/mix';
import { packSample } from '@/server/tasks/pack';
import { render } from '@/server/tasks/render';
import type { TakenTask } from '@/store/tasks';
import type { ThreadEvent, ThreadMethods } from './threadMethods';
import { threadPool } from './threadPool';

/** Each holds a whole sample and what is made of it. */
const MOST_LANE_THREADS = 4;

const tell = (event: ThreadEvent) => workerpool.workerEmit(event);
const tellShare = (share: number) => tell({ kind: 'progress', stage: '', share });

/** Fits lanes of a blend side by side where there are cores for it. */
const cores = availableParallelism();
let lanes: ReturnType<typeof threadPool> | null = null;
const fitLane: FitLane = (lane, rate, onProgress) => {
  if (cores === 1) return laneFitted(lane, rate, onProgress);
  lanes ??= threadPool(Math.min(cores, MOST_LANE_THREADS), 1);
  return lanes.run('fitOneLane', [lane, rate], { onProgress: ({ share }) => onProgress(share) });
};

const methods: ThreadMethods = {
  async measureSample(task) {
    tell({ kind: 'begun' });
    await measure(task, (stage, share) => tell({ kind: 'progress', stage, share }));
  },
  async makeItem(task, position, index) {
    tell({ kind: 'begun' });
    if (task.kind === 'pack') return packSample(task as TakenTask<'pack'>, position, index, tellShare);
    return render(task as TakenTask<'render'>, position, index, tellShare);
  },
  async writeMixed(task, index) {
    tell({ kind: 'begun' });
    return writeMixed(task, index, tellShare, fitLane);
  },
  async keepMix(task, position, index, mixed) {
    tell({ kind: 'begun' });
    return keepMix(task, position, index, mixed, tellShare);
  },
  async fitOneLane(lane, rate) {
    tell({ kind: 'begun' });
    const fits = await laneFitted(lane, rate, tellShare);
    // Parts that are alike share what was made.
    const buffers = new Set(fits.flat().map((channel) => channel.buffer as ArrayBuffer));
    return new workerpool.Transfer(fits, [...buffers]) as unknown as Float32Array[][];
  },
};

workerpool.worker({ ...methods });
