import type { PlayedControl, PlayedNote } from '@/core/formats/midiRecording';
import { isNote, type MidiMessage } from './midi';

/** What was played so far. */
export interface Recorded {
  /** Seconds from the first of them on, in the order of their beginnings. */
  notes: PlayedNote[];
  /** Pedals and other controllers, pitch bend, pressure, program: also those from before the first note. */
  controls: PlayedControl[];
  seconds: number;
}

/** What stands before the first note, seconds: a performance does not begin with its first frame. */
const BEFORE = 0.25;

/** Keeps what keyboards play, by the times that the messages themselves carry: the page may be as late as it likes. */
export class Recorder {
  private readonly notes: PlayedNote[] = [];
  private readonly controls: { at: number; bytes: readonly number[] }[] = [];
  private readonly sounding = new Map<number, PlayedNote>();
  private begunAt: number | null = null;

  hear(message: MidiMessage) {
    if (!isNote(message)) {
      this.controls.push(message);
      return;
    }
    const { note: key, on, at, velocity } = message;
    if (on) this.begunAt ??= at;
    if (this.begunAt === null) return;
    const time = BEFORE + (at - this.begunAt) / 1000;
    // A key that is struck again ends what it sounded.
    const before = this.sounding.get(key);
    if (before) before.seconds = Math.max(0.001, time - before.time);
    this.sounding.delete(key);
    if (!on) return;
    const note = { time, seconds: 0, key, velocity };
    this.notes.push(note);
    this.sounding.set(key, note);
  }

  /** What was played up to a moment of the page's clock, ms; what still sounds ends there. */
  now(at: number): Recorded {
    const { begunAt } = this;
    if (begunAt === null) return { notes: [], controls: [], seconds: 0 };
    const seconds = BEFORE + Math.max(0, at - begunAt) / 1000;
    const still = new Set(this.sounding.values());
    return {
      notes: this.notes.map((note) =>
        still.has(note) ? { ...note, seconds: Math.max(0.001, seconds - note.time) } : { ...note },
      ),
      // A pedal that was down before stands at the beginning.
      controls: this.controls.map((one) => ({
        time: Math.max(0, BEFORE + (one.at - begunAt) / 1000),
        bytes: one.bytes,
      })),
      seconds,
    };
  }
}
