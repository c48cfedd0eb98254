import { noteHz } from '@/core/harmony/scale';
import { engine } from './engine';

/** Strengths of the partials of a held note: like a small reed organ, so that it carries over a loop. */
const PARTIALS = [0, 1, 0.5, 0.32, 0.18, 0.12, 0.07];
const RISE_SECONDS = 0.012;
const FALL_SECONDS = 0.06;
const LEVEL = 0.16;

interface Voice {
  oscillator: OscillatorNode;
  gain: GainNode;
}

/** Notes that are held against the sample, at its tuning, through the engine's own output. */
class Notes {
  private voices = new Map<number, Voice>();
  /** Keys that are down: one may be let go while the sound is still being started. */
  private down = new Set<number>();
  private wave: PeriodicWave | null = null;
  private level = 1;
  private output: GainNode | null = null;

  /** Sounds a MIDI note until it is let go. */
  async hold(midi: number, tuningCents: number) {
    this.down.add(midi);
    if (this.voices.has(midi)) return;
    const { context } = engine;
    await context.resume();
    if (this.voices.has(midi) || !this.down.has(midi)) return;
    this.wave ??= context.createPeriodicWave(new Float32Array(PARTIALS.length), Float32Array.from(PARTIALS));
    if (!this.output) {
      this.output = context.createGain();
      this.output.gain.value = this.level;
      this.output.connect(context.destination);
    }
    const oscillator = context.createOscillator();
    oscillator.setPeriodicWave(this.wave);
    oscillator.frequency.value = noteHz(midi, tuningCents);
    const gain = context.createGain();
    gain.gain.setValueAtTime(0, context.currentTime);
    gain.gain.linearRampToValueAtTime(LEVEL, context.currentTime + RISE_SECONDS);
    oscillator.connect(gain).connect(this.output);
    oscillator.start();
    this.voices.set(midi, { oscillator, gain });
  }

  letGo(midi: number) {
    this.down.delete(midi);
    const voice = this.voices.get(midi);
    if (!voice) return;
    this.voices.delete(midi);
    const { currentTime } = voice.gain.context;
    voice.gain.gain.cancelScheduledValues(currentTime);
    voice.gain.gain.setTargetAtTime(0, currentTime, FALL_SECONDS / 3);
    voice.oscillator.stop(currentTime + 3 * FALL_SECONDS);
  }

  letAllGo() {
    for (const midi of [...this.voices.keys(), ...this.down]) this.letGo(midi);
  }

  setLevel(level: number) {
    this.level = level;
    if (this.output) this.output.gain.value = level;
  }
}

export const notes = new Notes();
