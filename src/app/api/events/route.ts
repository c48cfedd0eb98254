import { onSampleChange } from '@/server/events';
import { respond } from '../respond';

export const dynamic = 'force-dynamic';

const KEEP_ALIVE = 20_000;

/** Changes of samples as server-sent events. */
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
      const stop = onSampleChange((change) => send(`data: ${JSON.stringify(change)}\n\n`));
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
