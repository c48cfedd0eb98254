import type { DecodeAnswer, DecodeRequest } from '@/contract/workers/decode';

/** Stands in for the browser's worker: the test answers in its place. */
export class DecoderStandIn {
  static all: DecoderStandIn[] = [];
  static get last(): DecoderStandIn | undefined {
    return DecoderStandIn.all[DecoderStandIn.all.length - 1];
  }
  /** The worker that is asked for a sample. */
  static of(sampleId: string): DecoderStandIn | undefined {
    return DecoderStandIn.all.findLast(({ asked }) => asked?.url.includes(`/${sampleId}/`));
  }
  /** Takes the place of the browser's `Worker` from now on. */
  static install() {
    DecoderStandIn.all = [];
    Object.assign(globalThis, { Worker: DecoderStandIn });
  }
  onmessage: ((event: { data: DecodeAnswer }) => void) | null = null;
  onerror: ((event: { message: string }) => void) | null = null;
  asked: DecodeRequest | null = null;
  ended = false;
  constructor() {
    DecoderStandIn.all.push(this);
  }
  postMessage(request: DecodeRequest) {
    this.asked = request;
  }
  terminate() {
    this.ended = true;
  }
  answer(data: DecodeAnswer) {
    if (!this.ended) this.onmessage?.({ data });
  }
}

/** A whole sample; `playChannels` null: those of its beginning. */
export const decoded = (
  channels: Float32Array[],
  playChannels: Float32Array[] | null,
  sampleRate = 1000,
): DecodeAnswer => ({
  kind: 'decoded',
  sampleRate,
  channels,
  playChannels,
  peaks: { sampleRate, frames: channels[0].length, levels: [] },
  warnings: [],
});
