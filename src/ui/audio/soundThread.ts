import type { FromEngine } from '@/contract/workers/engine';
import type { MixerCommand } from '@/core/playing/commands';

/**
 * The way into the audio thread: the context that everything sounds through, and the worklet that plays. A start that
 * failed is tried again when it is asked for again.
 */
export class SoundThread {
  private made: AudioContext | null = null;
  private starting: Promise<void> | null = null;
  private node: AudioWorkletNode | null = null;
  private tries = 0;

  constructor(
    /** Called with everything that the worklet reports. */
    private readonly onReport: (report: FromEngine) => void,
    /** Called when the worklet has started and knows nothing yet. */
    private readonly onStarted: () => void,
  ) {}

  get context(): AudioContext {
    return (this.made ??= new AudioContext({ latencyHint: 'interactive' }));
  }

  /** Frames a second of everything that is played. */
  get rate(): number {
    return this.context.sampleRate;
  }

  /** Resolves when the worklet runs; rejects with a sentence. */
  started(): Promise<void> {
    this.starting ??= this.start().catch((error: unknown) => {
      this.starting = null;
      const why = error instanceof Error ? error.message : String(error);
      throw new Error(`Audio could not start (${why.replace(/\.$/, '')}).`);
    });
    return this.starting;
  }

  /** Tells the worklet, once it runs; before, everything is told by who is called then. */
  tell(message: MixerCommand) {
    this.node?.port.postMessage(message);
  }

  private async start() {
    // A module that could not be fetched is not fetched again under the same address.
    const again = this.tries++ ? `?again=${this.tries}` : '';
    await this.context.audioWorklet.addModule(`/built/engine.worklet.js${again}`);
    const node = new AudioWorkletNode(this.context, 'grento-engine', {
      numberOfInputs: 0,
      outputChannelCount: [2],
    });
    node.port.onmessage = ({ data }: MessageEvent<FromEngine>) => this.onReport(data);
    node.connect(this.context.destination);
    this.node = node;
    this.onStarted();
  }
}
