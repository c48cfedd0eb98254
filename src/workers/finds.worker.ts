import type { FindsAnswer, FindsRequest } from '@/contract/workers/finds';

self.onmessage = async ({ data: { audio, traces, onsets, grid } }: MessageEvent<FindsRequest>) => {
  const answer = (message: FindsAnswer) => postMessage(message);
  try {
    // Loaded here and not above: finding waits for its transform, and what is sent meanwhile would find nobody listening.
    const { findsIn } = await import('@/core/recipes/finds');
    answer({ kind: 'found', finds: findsIn(audio, traces, onsets, grid) });
  } catch (error) {
    answer({ kind: 'failed', message: error instanceof Error ? error.message : String(error) });
  }
};
