import { Playback } from '@/core/signal/playback';
import type { FromPlayer, ToPlayer } from '@/core/signal/playerMessages';

declare const currentTime: number;
declare function registerProcessor(name: string, processor: new () => AudioWorkletProcessor): void;
declare abstract class AudioWorkletProcessor {
  readonly port: MessagePort;
  abstract process(inputs: Float32Array[][], outputs: Float32Array[][]): boolean;
}

/** Blocks of 128 frames between two reports of the position. */
const REPORT_EVERY = 6;

class Player extends AudioWorkletProcessor {
  private readonly playback = new Playback();
  private blocks = 0;
  private wasPlaying = false;
  private run = 0;

  constructor() {
    super();
    this.port.onmessage = ({ data }: MessageEvent<ToPlayer>) => {
      if (data.kind === 'load') this.playback.load(data.channels);
      else if (data.kind === 'start') {
        this.run = data.run;
        this.playback.start(data.position, data.audibleFrom);
      } else if (data.kind === 'stop') this.playback.stop();
      else if (data.kind === 'route') this.playback.setRoute(data.route);
      else if (data.kind === 'speed') this.playback.setSpeed(data.speed);
      else if (data.kind === 'hits') this.playback.setHits(data.hits);
      else if (data.kind === 'clicks') this.playback.setClicks(data.clicks);
      else if (data.kind === 'voices') this.playback.setVoices(data.voices);
      else this.playback.setMix(data.mix);
    };
  }

  process(_inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const [left, right] = outputs[0];
    const position = this.playback.position;
    const playing = this.playback.render(left, right ?? new Float32Array(left.length));
    if (playing !== this.wasPlaying || (playing && this.blocks++ % REPORT_EVERY === 0)) {
      this.port.postMessage({ run: this.run, position, time: currentTime, playing } satisfies FromPlayer);
    }
    this.wasPlaying = playing;
    return true;
  }
}

registerProcessor('grento-player', Player);
