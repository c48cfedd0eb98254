import { decodeAudio } from '@/core/formats/decode';
import type { DecodeAnswer, DecodeRequest } from '@/core/formats/decodeMessages';
import { growingArray, type GrowingArray } from '@/core/signal/growingArray';
import { peakBuilder } from '@/core/signal/peaks';
import { createResampler, type Resampler } from '@/core/signal/resample';

const answer = (message: DecodeAnswer) => postMessage(message);

self.onmessage = async ({ data: { url, playRate } }: MessageEvent<DecodeRequest>) => {
  try {
    const response = await fetch(url);
    if (!response.ok || !response.body)
      throw new Error(`The file could not be fetched (${response.status}).`);
    const total = Number(response.headers.get('content-length') ?? 0);
    const own: GrowingArray[] = [];
    const played: GrowingArray[] = [];
    let resamplers: Resampler[] = [];
    let peaks: ReturnType<typeof peakBuilder> | null = null;
    const summary = await decodeAudio(withProgress(response.body, total), (block, sampleRate) => {
      peaks ??= peakBuilder(sampleRate);
      peaks.push(block);
      // More than two channels are heard and drawn as their first two.
      const used = block.slice(0, 2);
      if (own.length === 0) {
        for (let c = 0; c < used.length; c++) own.push(growingArray());
        if (sampleRate !== playRate) {
          resamplers = used.map(() => createResampler(sampleRate, playRate));
          for (let c = 0; c < used.length; c++) played.push(growingArray());
        }
      }
      used.forEach((channel, c) => {
        own[c].append(channel);
        if (resamplers[c]) played[c].append(resamplers[c].push(channel));
      });
    });
    resamplers.forEach((resampler, c) => played[c].append(resampler.finish()));
    const channels = own.map(shared);
    answer({
      kind: 'decoded',
      sampleRate: summary.sampleRate,
      channels,
      playChannels: resamplers.length ? played.map(shared) : channels,
      peaks: peaks!.finish(),
      warnings: summary.warnings,
    });
  } catch (error) {
    answer({ kind: 'failed', message: error instanceof Error ? error.message : String(error) });
  }
};

async function* withProgress(body: ReadableStream<Uint8Array>, total: number): AsyncGenerator<Uint8Array> {
  const reader = body.getReader();
  let read = 0;
  for (;;) {
    const { value, done } = await reader.read();
    if (done) return;
    yield value;
    read += value.length;
    if (total > 0) answer({ kind: 'progress', share: read / total });
  }
}

/** A copy in memory that page and audio thread can share where the browser allows it. */
function shared(array: GrowingArray): Float32Array {
  const view = array.view();
  const memory =
    typeof SharedArrayBuffer === 'undefined'
      ? new ArrayBuffer(view.byteLength)
      : new SharedArrayBuffer(view.byteLength);
  const copy = new Float32Array(memory as ArrayBuffer);
  copy.set(view);
  return copy;
}
