import { parentPort } from 'node:worker_threads';
import { UndecodableError } from '@/core/formats/audioFormat';
import { laneFitted, type LaneToFit } from '@/server/tasks/fitLane';

/** What the rendering thread tells a thread that fits lanes for it, and what that answers. */
export type ToLaneThread = { lane: LaneToFit; rate: number };
export type FromLaneThread =
  | { kind: 'progress'; share: number }
  | { kind: 'fitted'; fits: Float32Array[][] }
  /** `isHopeless`: the sample cannot be decoded, however often it is tried. */
  | { kind: 'failed'; message: string; isHopeless: boolean };

const port = parentPort;
if (!port) throw new Error('this thread runs beside the rendering thread');

port.on('message', async ({ lane, rate }: ToLaneThread) => {
  const answer = (message: FromLaneThread, moved: ArrayBuffer[] = []) => port.postMessage(message, moved);
  try {
    const fits = await laneFitted(lane, rate, (share) => answer({ kind: 'progress', share }));
    // Parts that are alike share what was made.
    const buffers = new Set(fits.flat().map((channel) => channel.buffer as ArrayBuffer));
    answer({ kind: 'fitted', fits }, [...buffers]);
  } catch (error) {
    const message = error instanceof Error ? error.message : String(error);
    answer({ kind: 'failed', message, isHopeless: error instanceof UndecodableError });
  }
});
