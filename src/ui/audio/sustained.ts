import { isNote, sustainOf, type MidiMessage } from './midi';

/** Presses and lets go of notes as a keyboard tells it: what is let go while its sustain pedal is down sounds on until that is lifted. */
export function sustained(
  press: (note: number) => void,
  release: (note: number) => void,
): (message: MidiMessage) => void {
  let isDown = false;
  const down = new Set<number>();
  const held = new Set<number>();
  return (message) => {
    const pedal = sustainOf(message);
    if (pedal !== null) {
      isDown = pedal;
      if (!pedal) {
        for (const note of held) if (!down.has(note)) release(note);
        held.clear();
      }
    } else if (isNote(message)) {
      const { note, on } = message;
      if (on) {
        // Struck again it sounds again.
        if (held.delete(note)) release(note);
        down.add(note);
        press(note);
      } else {
        down.delete(note);
        if (isDown) held.add(note);
        else release(note);
      }
    }
  };
}
