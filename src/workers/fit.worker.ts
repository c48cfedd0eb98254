import type { StretchJobs, ToFitter } from '@/core/recipes/jobs';

const canShare = typeof SharedArrayBuffer !== 'undefined';

/** Memory that page and audio thread can read while it is written, where the browser allows it. */
function memory(frames: number): Float32Array {
  const bytes = frames * Float32Array.BYTES_PER_ELEMENT;
  return new Float32Array(canShare ? new SharedArrayBuffer(bytes) : new ArrayBuffer(bytes));
}

/** Loaded here and not above: the voice waits for its transform, and what is sent meanwhile would find nobody listening. */
const loading: Promise<StretchJobs> = import('@/core/recipes/jobs').then(
  ({ StretchJobs }) => new StretchJobs((answer) => postMessage(answer), memory, canShare),
);
/** What is told between two steps is heard before the next one. */
const between = new MessageChannel();
let isWorking = false;

between.port1.onmessage = async () => {
  isWorking = (await loading).work();
  if (isWorking) between.port2.postMessage(null);
};

self.onmessage = async ({ data }: MessageEvent<ToFitter>) => {
  (await loading).tell(data);
  if (isWorking) return;
  isWorking = true;
  between.port2.postMessage(null);
};
