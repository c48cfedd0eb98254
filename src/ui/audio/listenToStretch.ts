import type { MeasureOptions } from '@/core/measurement/measure';
import type { Measurement } from '@/core/measurement/schema';
import type { ListenAnswer, ListenRequest } from '@/contract/workers/listen';
import type { DecodedAudio } from './decodedAudio';

/**
 * Measures a stretch of a sample in a worker of the page, with the engine that the measuring process uses.
 * Times are those of the file. Rejects with a sentence; an aborted call ends its worker.
 */
export function listenToStretch(
  audio: DecodedAudio,
  stretch: { from: number; to: number },
  options: MeasureOptions,
  signal: AbortSignal,
): Promise<Measurement> {
  return new Promise((resolve, reject) => {
    const worker = new Worker('/built/listen.worker.js', { type: 'module' });
    const end = () => worker.terminate();
    signal.addEventListener('abort', () => {
      end();
      reject(new DOMException('aborted', 'AbortError'));
    });
    worker.onerror = (event) => {
      end();
      reject(new Error(event.message || 'Measuring could not start.'));
    };
    worker.onmessage = ({ data }: MessageEvent<ListenAnswer>) => {
      end();
      if (data.kind === 'failed') reject(new Error(data.message));
      else resolve(data.measurement);
    };
    const { sampleRate } = audio;
    const first = Math.max(0, Math.round(stretch.from * sampleRate));
    const last = Math.round(stretch.to * sampleRate);
    worker.postMessage({
      // Copies: the audio's own memory is shared with the player.
      channels: audio.channels.map((channel) => Float32Array.from(channel.subarray(first, last))),
      sampleRate,
      from: first / sampleRate,
      options,
    } satisfies ListenRequest);
  });
}
