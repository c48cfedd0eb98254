import type { PeakPyramid } from '@/core/signal/peaks';
import type { DecodeAnswer, DecodeRequest } from '@/contract/workers/decode';

/** A sample's audio in the page: at its own rate for drawing, at the context's rate for playing. */
export interface DecodedAudio {
  sampleId: string;
  sampleRate: number;
  channels: Float32Array[];
  playChannels: Float32Array[];
  playRate: number;
  peaks: PeakPyramid;
  durationSeconds: number;
  warnings: string[];
}

export interface DecodeProgress {
  /** Length of the sample where it is known: then `onBegun` gets its audio before it is all there. */
  durationSeconds?: number | null;
  onBegun?: (playChannels: Float32Array[]) => void;
  /** Gets the share that is fetched, and up to where the audio is there. */
  onProgress?: (share: number, decodedSeconds: number) => void;
}

/**
 * Fetches and decodes a sample's original in a worker, with the same decoders as the measuring process.
 * Rejects with a sentence for the user; an aborted call ends its worker.
 */
export function decodeSample(
  sampleId: string,
  playRate: number,
  { durationSeconds = null, onBegun, onProgress }: DecodeProgress,
  signal: AbortSignal,
): Promise<DecodedAudio> {
  let begun: Float32Array[] = [];
  return new Promise((resolve, reject) => {
    const worker = new Worker('/built/decode.worker.js', { type: 'module' });
    const end = () => {
      worker.terminate();
      signal.removeEventListener('abort', abort);
    };
    const abort = () => {
      end();
      reject(new DOMException('aborted', 'AbortError'));
    };
    if (signal.aborted) return abort();
    signal.addEventListener('abort', abort);
    worker.onerror = (event) => {
      end();
      reject(new Error(event.message || 'The decoder could not start.'));
    };
    worker.onmessage = ({ data }: MessageEvent<DecodeAnswer>) => {
      if (data.kind === 'begun') {
        begun = data.playChannels;
        return onBegun?.(begun);
      }
      if (data.kind === 'progress') return onProgress?.(data.share, data.decodedSeconds);
      end();
      if (data.kind === 'failed') return reject(new Error(data.message));
      const { sampleRate, channels, peaks, warnings } = data;
      // The same memory comes as another object each time that it is told of.
      const playChannels = data.playChannels ?? begun;
      resolve({
        sampleId,
        sampleRate,
        channels,
        playChannels,
        playRate,
        peaks,
        warnings,
        durationSeconds: channels[0].length / sampleRate,
      });
    };
    worker.postMessage({ url: addressOf(sampleId), playRate, durationSeconds } satisfies DecodeRequest);
  });
}

/** The file of a folder that an id of what is heard stands for; null for a sample. */
export function placeOf(id: string): { placeId: number; path: string } | null {
  const [, placeId, path] = /^place:(\d+):(.*)$/s.exec(id) ?? [];
  return placeId ? { placeId: Number(placeId), path } : null;
}

/** What is heard is mostly a sample; `place:3:drums/a.wav` is a file in folder 3, before it is imported. */
function addressOf(id: string): string {
  const place = placeOf(id);
  return place
    ? `/api/places/${place.placeId}/file?${new URLSearchParams({ path: place.path })}`
    : `/api/samples/${id}/original?listen`;
}
