import type { ListenAnswer, ListenRequest } from '@/contract/workers/listen';
import { shiftTimes } from '@/core/measurement/shiftTimes';
import { mixToMono } from '@/core/signal/pcm';
import { resample } from '@/core/signal/resample';

self.onmessage = async ({ data: { channels, sampleRate, from, options } }: MessageEvent<ListenRequest>) => {
  const answer = (message: ListenAnswer) => postMessage(message);
  try {
    // Loaded here and not above: the engine waits for its transform, and what is sent meanwhile would find
    // nobody listening.
    const [{ measureAudio }, { ANALYSIS_RATE }] = await Promise.all([
      import('@/core/measurement/measure'),
      import('@/core/rhythm/onsetFeatures'),
    ]);
    const mono = resample(mixToMono(channels), sampleRate, ANALYSIS_RATE);
    answer({ kind: 'measured', measurement: shiftTimes(measureAudio(mono, options), from) });
  } catch (error) {
    answer({ kind: 'failed', message: error instanceof Error ? error.message : String(error) });
  }
};
