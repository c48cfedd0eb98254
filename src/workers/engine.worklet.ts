import type { FromEngine } from '@/contract/workers/engine';
import { obey, type MixerCommand } from '@/core/playing/commands';
import { Mixer } from '@/core/playing/mixer';

declare const currentTime: number;
declare const sampleRate: number;
declare function registerProcessor(name: string, processor: new () => AudioWorkletProcessor): void;
declare abstract class AudioWorkletProcessor {
  readonly port: MessagePort;
  abstract process(inputs: Float32Array[][], outputs: Float32Array[][]): boolean;
}

/** Blocks of 128 frames between two reports of the position. */
const REPORT_EVERY = 6;

class Engine extends AudioWorkletProcessor {
  private readonly mixer = new Mixer(sampleRate);
  private blocks = 0;
  private wasPlaying = false;
  private run = 0;

  constructor() {
    super();
    this.port.onmessage = ({ data }: MessageEvent<MixerCommand>) => {
      if (data.kind === 'start') this.run = data.run;
      obey(this.mixer, data);
    };
  }

  process(_inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const [left, right] = outputs[0];
    const { position } = this.mixer;
    const playing = this.mixer.render(left, right ?? new Float32Array(left.length));
    if (playing !== this.wasPlaying || (playing && this.blocks++ % REPORT_EVERY === 0))
      this.port.postMessage({ run: this.run, position, time: currentTime, playing } satisfies FromEngine);
    this.wasPlaying = playing;
    return true;
  }
}

registerProcessor('grento-engine', Engine);
