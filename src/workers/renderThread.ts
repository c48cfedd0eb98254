import { availableParallelism } from 'node:os';
import { parentPort } from 'node:worker_threads';
import { UndecodableError } from '@/core/formats/audioFormat';
import { RecipeError } from '@/core/recipes/recipeError';
import { UserError } from '@/server/userError';
import { laneFitted } from '@/server/tasks/fitLane';
import { mix } from '@/server/tasks/mix';
import { packSample } from '@/server/tasks/pack';
import { render } from '@/server/tasks/render';
import type { TakenTask } from '@/store/tasks';
import { laneThreads } from './laneThreads';

/** A task that makes sound. */
export type MakingTask = TakenTask<'render'> | TakenTask<'mix'> | TakenTask<'pack'>;
/** What the process tells its rendering thread, and what it answers. `index`: of the recipe, the outcome, or the sample of the pack. */
export type ToRenderThread = { task: MakingTask; position: number; index: number };
export type FromRenderThread =
  | { kind: 'progress'; share: number }
  | { kind: 'done' }
  /** `isHopeless`: the recipe itself cannot be followed, however often it is tried. */
  | { kind: 'failed'; message: string; stack: string; isHopeless: boolean };

/** Each holds a whole sample and what is made of it. */
const MOST_LANE_THREADS = 4;

const port = parentPort;
if (!port) throw new Error('the rendering thread runs inside the tasks process');
/** Lanes of a blend are fitted beside each other where there are cores for it. */
const cores = availableParallelism();
const fitLane = cores > 1 ? laneThreads(Math.min(cores, MOST_LANE_THREADS)) : laneFitted;
const answer = (message: FromRenderThread) => port.postMessage(message);

function made(task: MakingTask, position: number, index: number, onProgress: (share: number) => void) {
  if (task.kind === 'mix') return mix(task as TakenTask<'mix'>, position, index, onProgress, fitLane);
  if (task.kind === 'pack') return packSample(task as TakenTask<'pack'>, position, index, onProgress);
  const renders = task as TakenTask<'render'>;
  return render(renders, position, renders.payload.recipes[index], onProgress);
}

port.on('message', async ({ task, position, index }: ToRenderThread) => {
  const onProgress = (share: number) => answer({ kind: 'progress', share });
  try {
    await made(task, position, index, onProgress);
    answer({ kind: 'done' });
  } catch (error) {
    const isHopeless =
      error instanceof RecipeError || error instanceof UndecodableError || error instanceof UserError;
    const { message, stack = '' } = error instanceof Error ? error : new Error(String(error));
    answer({ kind: 'failed', message, stack, isHopeless });
  }
});
