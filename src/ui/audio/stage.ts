import type { MixerCommand } from '@/core/playing/commands';

/** What a session needs of the engine. */
export interface Stage {
  /** Frames a second of the clock. */
  rate(): number;
  tell(message: MixerCommand): void;
  /** The frame of the clock that is rendered now; null while nothing plays. */
  now(): number | null;
  /** Starts the clock at a frame; nothing but the click is heard before `audibleFrom`. */
  startAt(frame: number, audibleFrom?: number): void;
  /** Another sample is the one that is looked at; `beside`: what else sounds. */
  looksAt(sampleId: string, beside: readonly string[]): void;
  fault(fault: string): void;
}
