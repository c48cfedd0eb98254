import type { ListenAnswer, ListenRequest } from '@/core/measurement/listenMessages';
import { measureAudio } from '@/core/measurement/measure';
import { shiftTimes } from '@/core/measurement/shiftTimes';
import { ANALYSIS_RATE } from '@/core/rhythm/onsetFeatures';
import { mixToMono } from '@/core/signal/pcm';
import { resample } from '@/core/signal/resample';

self.onmessage = ({ data: { channels, sampleRate, from, options } }: MessageEvent<ListenRequest>) => {
  const answer = (message: ListenAnswer) => postMessage(message);
  try {
    const mono = resample(mixToMono(channels), sampleRate, ANALYSIS_RATE);
    answer({ kind: 'measured', measurement: shiftTimes(measureAudio(mono, options), from) });
  } catch (error) {
    answer({ kind: 'failed', message: error instanceof Error ? error.message : String(error) });
  }
};
