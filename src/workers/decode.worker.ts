import { decodeAudio } from '@/core/formats/decode';
import type { DecodeAnswer, DecodeRequest } from '@/contract/workers/decode';
import { growingArray, type GrowingArray } from '@/core/signal/growingArray';
import { peakBuilder } from '@/core/signal/peaks';
import { createResampler, type Resampler } from '@/core/signal/resample';

const answer = (message: DecodeAnswer) => postMessage(message);
const canShare = typeof SharedArrayBuffer !== 'undefined';
/** Progress is told no more often, ms. */
const TOLD_EVERY = 40;

self.onmessage = async ({ data: { url, playRate, durationSeconds } }: MessageEvent<DecodeRequest>) => {
  try {
    let own: GrowingArray[] = [];
    let played: GrowingArray[] = [];
    let resamplers: Resampler[] = [];
    let peaks: ReturnType<typeof peakBuilder> | null = null;
    let told = 0;
    let begun: Float32Array[] = [];
    const begin = (channels: number, sampleRate: number) => {
      peaks = peakBuilder(sampleRate);
      const frames = durationSeconds === null ? 0 : Math.round(durationSeconds * sampleRate);
      const sameRate = sampleRate === playRate;
      const made = (length: number) =>
        Array.from({ length: channels }, () => growingArray(length, sharedMemory));
      own = made(frames);
      played = sameRate ? own : made(Math.round((frames * playRate) / sampleRate));
      if (!sameRate) resamplers = own.map(() => createResampler(sampleRate, playRate));
      if (frames === 0 || !canShare) return;
      begun = played.map((channel) => channel.whole());
      answer({ kind: 'begun', playChannels: begun });
    };
    const onRead = (share: number) => {
      const now = performance.now();
      if (now - told < TOLD_EVERY) return;
      told = now;
      answer({ kind: 'progress', share, decodedSeconds: (played[0]?.length ?? 0) / playRate });
    };
    const summary = await decodeAudio(
      () => fetched(url, onRead),
      (block, sampleRate) => {
        // More than two channels are heard and drawn as their first two.
        const used = block.slice(0, 2);
        if (!peaks) begin(used.length, sampleRate);
        peaks!.push(block);
        used.forEach((channel, c) => {
          own[c].append(channel);
          if (resamplers[c]) played[c].append(resamplers[c].push(channel));
        });
      },
    );
    resamplers.forEach((resampler, c) => played[c].append(resampler.finish()));
    const channels = own.map(trimmed);
    const playChannels = played === own ? channels : played.map(trimmed);
    const isBegun = playChannels.every(({ buffer, length }, c) => {
      const before = begun.at(c);
      return before?.buffer === buffer && before.length === length;
    });
    answer({
      kind: 'decoded',
      sampleRate: summary.sampleRate,
      channels,
      playChannels: isBegun ? null : playChannels,
      peaks: peaks!.finish(),
      warnings: summary.warnings,
    });
  } catch (error) {
    answer({ kind: 'failed', message: error instanceof Error ? error.message : String(error) });
  }
};

/** The bytes at an address; tells the share that has come. */
async function* fetched(url: string, tell: (share: number) => void): AsyncGenerator<Uint8Array> {
  const response = await fetch(url);
  if (!response.ok || !response.body) throw new Error(`The file could not be loaded (${response.status}).`);
  const total = Number(response.headers.get('content-length') ?? 0);
  const reader = response.body.getReader();
  let read = 0;
  try {
    for (;;) {
      const { value, done } = await reader.read();
      if (done) return;
      yield value;
      read += value.length;
      tell(total > 0 ? read / total : 0);
    }
  } finally {
    // What nobody wants any more need not come.
    await reader.cancel();
  }
}

/** Memory that page and audio thread can read while it is written, where the browser allows it. */
function sharedMemory(length: number): Float32Array<ArrayBuffer> {
  const bytes = Float32Array.BYTES_PER_ELEMENT * length;
  return new Float32Array((canShare ? new SharedArrayBuffer(bytes) : new ArrayBuffer(bytes)) as ArrayBuffer);
}

/** What was appended, without the room that was never filled. */
function trimmed(array: GrowingArray): Float32Array {
  const view = array.view();
  if (view.length === array.whole().length) return view;
  const copy = sharedMemory(view.length);
  copy.set(view);
  return copy;
}
