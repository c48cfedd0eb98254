/** What a keyboard or a pad tells: a note that begins or ends. */
export interface NoteMessage {
  note: number;
  on: boolean;
  /** How hard it is struck, 1 … 127; 0 where it ends. */
  velocity: number;
  /** On the page's clock, ms. */
  at: number;
}

/** What else a keyboard tells of its playing: pedals and other controllers, pitch bend, pressure, program. */
interface ControlMessage {
  /** Status byte and data of the MIDI 1.0 protocol. */
  bytes: readonly number[];
  /** On the page's clock, ms. */
  at: number;
}

export type MidiMessage = NoteMessage | ControlMessage;
export const isNote = (message: MidiMessage): message is NoteMessage => 'note' in message;

const CONTROLLER = 0xb0;
const SUSTAIN = 64;

/** Whether a message presses (true) or lifts (false) the sustain pedal; null for any other. */
export function sustainOf(message: MidiMessage): boolean | null {
  if (isNote(message)) return null;
  const [status, controller, value] = message.bytes;
  return (status & 0xf0) === CONTROLLER && controller === SUSTAIN ? value >= 64 : null;
}

/** A keyboard that can be chosen. */
export interface MidiDevice {
  id: string;
  name: string;
  listen: (hear: (message: MidiMessage) => void) => () => void;
}

/** Messages of a voice beside notes, by the upper half of their status: how many bytes follow it. */
const CONTROLS = new Map([
  [0xa0, 2],
  [CONTROLLER, 2],
  [0xc0, 1],
  [0xd0, 1],
  [0xe0, 2],
]);

/** Reads a message of the MIDI 1.0 protocol that belongs to playing; null for all others (clock, system exclusive). */
export function readMessage(bytes: ArrayLike<number>, at: number): MidiMessage | null {
  const note = readNote(bytes, at);
  if (note) return note;
  const data = CONTROLS.get(bytes[0] & 0xf0);
  if (data === undefined || bytes.length < 1 + data) return null;
  return { bytes: Array.from({ length: 1 + data }, (_, i) => bytes[i]), at };
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
  private listeners = new Set<(message: MidiMessage) => void>();

  listen = (hear: (message: MidiMessage) => void) => {
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
    const message = readMessage(bytes, at);
    if (message) this.listeners.forEach((hear) => hear(message));
  }
}

export const simulatedKeyboard = new SimulatedKeyboard();

/**
 * Keyboards of the machine, where the browser has Web MIDI and the user lets the page use them. Rejects with
 * a sentence when it has not or may not.
 */
export async function realKeyboards(): Promise<MidiDevice[]> {
  if (!('requestMIDIAccess' in navigator)) throw new Error('This browser does not support MIDI keyboards.');
  let access: MIDIAccess;
  try {
    access = await navigator.requestMIDIAccess();
  } catch {
    throw new Error('The browser does not allow access to MIDI keyboards.');
  }
  return [...access.inputs.values()].map((input) => ({
    id: input.id,
    name: input.name ?? 'MIDI keyboard',
    listen: (hear) => {
      const onMessage = (event: MIDIMessageEvent) => {
        const message = event.data && readMessage(event.data, event.timeStamp);
        if (message) hear(message);
      };
      input.addEventListener('midimessage', onMessage as EventListener);
      return () => input.removeEventListener('midimessage', onMessage as EventListener);
    },
  }));
}
