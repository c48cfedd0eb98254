import type { LaneToFit } from '@/server/tasks/fitLane';
import type { TakenTask } from '@/store/tasks';

/** A task that makes sound. */
export type MakingTask = TakenTask<'render'> | TakenTask<'mix'> | TakenTask<'pack'>;

/** What a thread tells while it works. */
export type ThreadEvent = { kind: 'begun' } | { kind: 'progress'; stage: string; share: number };

/** What a thread of the tasks process can do. Each method tells that it has begun, then how far it is. */
export interface ThreadMethods {
  measureSample(task: TakenTask<'measure'>): Promise<void>;
  /** `index`: of the recipe, the outcome, or the sample of the pack. */
  makeItem(task: MakingTask, position: number, index: number): Promise<void>;
  fitOneLane(lane: LaneToFit, rate: number): Promise<Float32Array[][]>;
}
