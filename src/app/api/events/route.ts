import { onEvent } from '@/server/events';
import { UserError } from '@/server/userError';
import { respond } from '../respond';

export const dynamic = 'force-dynamic';

const KEEP_ALIVE = 20_000;
/** More pages than these are not told at once; one browser needs one line for all of its tabs. */
const MOST_STREAMS = 100;
/** Events that a slow reader may lag behind; then it is cut, comes again and asks for everything again. */
const MOST_BEHIND = 2000;

let streams = 0;

/** What happens in the library, as server-sent events. */
export const GET = respond(async () => {
  if (streams >= MOST_STREAMS)
    throw new UserError('Too many pages listen to Grento at once; close some of them.', 503);
  const encoder = new TextEncoder();
  let end = () => {};
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      streams++;
      const send = (text: string) => {
        try {
          if ((controller.desiredSize ?? 0) < -MOST_BEHIND) {
            controller.close();
            return end();
          }
          controller.enqueue(encoder.encode(text));
        } catch {
          end();
        }
      };
      const stop = onEvent((event) => send(`data: ${JSON.stringify(event)}\n\n`));
      const timer = setInterval(() => send(': still here\n\n'), KEEP_ALIVE);
      let isOver = false;
      end = () => {
        if (isOver) return;
        isOver = true;
        streams--;
        clearInterval(timer);
        stop();
      };
      send(': listening\n\n');
    },
    cancel: () => end(),
  });
  return new Response(stream, {
    headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' },
  });
});
