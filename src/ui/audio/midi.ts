/** What a keyboard or a pad tells: a note that begins or ends. */
export interface NoteMessage {
  note: number;
  on: boolean;
  /** How hard it is struck, 1 … 127; 0 where it ends. */
  velocity: number;
  /** On the page's clock, ms. */
  at: number;
}

/** A keyboard that can be chosen. */
export interface MidiDevice {
  id: string;
  name: string;
  listen: (hear: (message: NoteMessage) => void) => () => void;
}

/** Reads a note message of the MIDI 1.0 protocol; null for all others. A note-on without velocity ends the note. */
export function readNote(bytes: ArrayLike<number>, at: number): NoteMessage | null {
  const kind = bytes[0] & 0xf0;
  if ((kind !== 0x90 && kind !== 0x80) || bytes.length < 3) return null;
  const on = kind === 0x90 && bytes[2] > 0;
  return { note: bytes[1] & 0x7f, on, velocity: on ? bytes[2] & 0x7f : 0, at };
}

/**
 * A keyboard that ships with Grento, for machines without one: what the page's keys and pads press goes
 * through the same messages as a real keyboard's.
 */
class SimulatedKeyboard implements MidiDevice {
  readonly id = 'simulated';
  readonly name = 'simulated keyboard';
  private listeners = new Set<(message: NoteMessage) => void>();

  listen = (hear: (message: NoteMessage) => void) => {
    this.listeners.add(hear);
    return () => void this.listeners.delete(hear);
  };

  press(note: number, at = performance.now()) {
    this.send([0x90, note, 96], at);
  }

  release(note: number, at = performance.now()) {
    this.send([0x80, note, 0], at);
  }

  private send(bytes: number[], at: number) {
    const message = readNote(bytes, at);
    if (message) this.listeners.forEach((hear) => hear(message));
  }
}

export const simulatedKeyboard = new SimulatedKeyboard();

/**
 * Keyboards of the machine, where the browser has Web MIDI and the user lets the page use them. Rejects with
 * a sentence when it has not or may not.
 */
export async function realKeyboards(): Promise<MidiDevice[]> {
  if (!('requestMIDIAccess' in navigator)) throw new Error('This browser has no access to MIDI keyboards.');
  let access: MIDIAccess;
  try {
    access = await navigator.requestMIDIAccess();
  } catch {
    throw new Error('The browser was not allowed to use MIDI keyboards.');
  }
  return [...access.inputs.values()].map((input) => ({
    id: input.id,
    name: input.name ?? 'MIDI keyboard',
    listen: (hear) => {
      const onMessage = (event: MIDIMessageEvent) => {
        const message = event.data && readNote(event.data, event.timeStamp);
        if (message) hear(message);
      };
      input.addEventListener('midimessage', onMessage as EventListener);
      return () => input.removeEventListener('midimessage', onMessage as EventListener);
    },
  }));
}
