import { onEvent } from '@/server/events';
import { respond } from '../respond';

export const dynamic = 'force-dynamic';

const KEEP_ALIVE = 20_000;

/** What happens in the library, as server-sent events. */
export const GET = respond(async () => {
  const encoder = new TextEncoder();
  let end = () => {};
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      const send = (text: string) => {
        try {
          controller.enqueue(encoder.encode(text));
        } catch {
          end();
        }
      };
      const stop = onEvent((event) => send(`data: ${JSON.stringify(event)}\n\n`));
      const timer = setInterval(() => send(': still here\n\n'), KEEP_ALIVE);
      end = () => {
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
