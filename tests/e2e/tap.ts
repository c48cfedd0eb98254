import type { Page } from '@playwright/test';

/** Runs in the audio thread, where nothing is lost however busy the machine is. */
const TAP_WORKLET = `
registerProcessor('tap', class extends AudioWorkletProcessor {
  constructor() { super(); this.left = []; this.right = []; }
  process([input]) {
    const [left, right] = input.length ? [input[0], input[1] ?? input[0]] : [new Float32Array(128), new Float32Array(128)];
    this.left.push(...left);
    this.right.push(...right);
    if (this.left.length >= 2048) {
      this.port.postMessage([this.left, this.right]);
      this.left = [];
      this.right = [];
    }
    return true;
  }
});`;

/** Records what reaches the loudspeaker: whatever is connected to a context's destination is also tapped. */
export async function tapSound(page: Page) {
  await page.addInitScript((code) => {
    const heard: { left: number[]; right: number[] } = { left: [], right: [] };
    Object.assign(window, { heard });
    const connect = AudioNode.prototype.connect as (this: AudioNode, ...args: unknown[]) => AudioNode;
    const tapped = new WeakMap<BaseAudioContext, Promise<void>>();
    // Nothing sounds before the tap runs.
    const resume = AudioContext.prototype.resume;
    AudioContext.prototype.resume = async function (this: AudioContext) {
      await tapped.get(this);
      return resume.call(this);
    };
    AudioNode.prototype.connect = function (this: AudioNode, ...args: unknown[]) {
      const { context } = this;
      if (args[0] instanceof AudioDestinationNode && !tapped.has(context)) {
        const ready = context.audioWorklet
          .addModule(URL.createObjectURL(new Blob([code], { type: 'text/javascript' })))
          .then(() => {
            const tap = new AudioWorkletNode(context, 'tap', {
              channelCount: 2,
              channelCountMode: 'explicit',
            });
            tap.port.onmessage = ({ data: [left, right] }: MessageEvent<[number[], number[]]>) => {
              heard.left.push(...left);
              heard.right.push(...right);
            };
            connect.call(this, tap);
            connect.call(tap, context.destination);
          });
        tapped.set(context, ready);
      }
      return connect.apply(this, args);
    } as typeof AudioNode.prototype.connect;
  }, TAP_WORKLET);
}

/** What the tap recorded; as bytes, which are handed over much faster than numbers. */
export async function heard(page: Page): Promise<{ left: number[]; right: number[] }> {
  const [left, right] = await page.evaluate(() => {
    const { left, right } = (window as unknown as { heard: { left: number[]; right: number[] } }).heard;
    return [left, right].map((side) => {
      const bytes = new Uint8Array(Float32Array.from(side).buffer);
      let text = '';
      for (let at = 0; at < bytes.length; at += 8192)
        text += String.fromCharCode(...bytes.subarray(at, at + 8192));
      return btoa(text);
    });
  });
  const numbers = (text: string) => {
    const bytes = Buffer.from(text, 'base64');
    return Array.from({ length: bytes.length / 4 }, (_, i) => bytes.readFloatLE(4 * i));
  };
  return { left: numbers(left), right: numbers(right) };
}
/** How many frames the tap has recorded. */
export const framesHeard = (page: Page): Promise<number> =>
  page.evaluate(() => (window as unknown as { heard: { left: number[] } }).heard.left.length);

export const forget = (page: Page) =>
  page.evaluate(() => Object.assign((window as unknown as { heard: object }).heard, { left: [], right: [] }));

/** Waits until the tap has `seconds` of sound by the audio's own clock: a busy machine only takes longer. */
async function recorded(page: Page, seconds: number, isFromSound: boolean) {
  await page.waitForFunction(
    ([frames, isFromSound]) => {
      const { left } = (window as unknown as { heard: { left: number[] } }).heard;
      const from = isFromSound ? left.findIndex((value) => Math.abs(value) > 1e-4) : 0;
      return from >= 0 && left.length - from >= frames;
    },
    [seconds * 44100, isFromSound] as const,
    { timeout: 120_000, polling: 50 },
  );
  return heard(page);
}

/** What is heard since it was forgotten. */
export const heardSince = (page: Page, seconds: number) => recorded(page, seconds, false);

/** The same, `seconds` from where it begins to sound, which may take its time. */
export const heardSounding = (page: Page, seconds: number) => recorded(page, seconds, true);

/** What is heard from now on, be it nothing. */
export async function listen(page: Page, seconds: number) {
  await forget(page);
  return recorded(page, seconds, false);
}
