import type { LaneToFit } from '@/server/tasks/fitLane';
import type { WrittenMix } from '@/server/tasks/mix';
import type { TakenTask } from '@/store/tasks';

/** A task that makes sound. */
type RenderTask = TakenTask<'render'> | TakenTask<'mix'> | TakenTask<'pack'>;

/** What a thread tells while it works. */
export type ThreadEvent = { kind: 'begun' } | { kind: 'progress'; stage: string; share: number };

/** What a thread of the tasks process can do. Each method tells that it has begun, then how far it is. */
export interface ThreadMethods {
  measureSample(task: TakenTask<'measure'>): Promise<void>;
  /** `index`: of the recipe, or of the sample of the pack. */
  makeItem(task: Exclude<RenderTask, TakenTask<'mix'>>, position: number, index: number): Promise<void>;
  /** Writes one outcome of a blend; lanes that were fitted are kept in the thread for the next. */
  writeMixed(task: TakenTask<'mix'>, index: number): Promise<WrittenMix>;
  keepMix(task: TakenTask<'mix'>, position: number, index: number, mixed: WrittenMix): Promise<void>;
  fitOneLane(lane: LaneToFit, rate: number): Promise<Float32Array[][]>;
}
