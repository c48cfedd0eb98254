import { parentPort } from 'node:worker_threads';
import { UndecodableError } from '@/core/formats/audioFormat';
import { RecipeError } from '@/core/recipes/making';
import { UserError } from '@/server/userError';
import { render } from '@/server/tasks/render';
import type { TakenTask } from '@/store/tasks';

/** What the process tells its rendering thread, and what it answers. */
export type ToRenderThread = { task: TakenTask<'render'>; position: number; recipe: number };
export type FromRenderThread =
  | { kind: 'progress'; share: number }
  | { kind: 'done' }
  /** `isHopeless`: the recipe itself cannot be followed, however often it is tried. */
  | { kind: 'failed'; message: string; stack: string; isHopeless: boolean };

const port = parentPort;
if (!port) throw new Error('the rendering thread runs inside the tasks process');
const answer = (message: FromRenderThread) => port.postMessage(message);

port.on('message', async ({ task, position, recipe }: ToRenderThread) => {
  try {
    await render(task, position, task.payload.recipes[recipe], (share) =>
      answer({ kind: 'progress', share }),
    );
    answer({ kind: 'done' });
  } catch (error) {
    const isHopeless =
      error instanceof RecipeError || error instanceof UndecodableError || error instanceof UserError;
    const { message, stack = '' } = error instanceof Error ? error : new Error(String(error));
    answer({ kind: 'failed', message, stack, isHopeless });
  }
});
