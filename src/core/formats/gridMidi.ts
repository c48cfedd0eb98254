import type { MidiEvent } from 'midi-file';
import type { Key } from '../harmony/keyNames';
import { beatsWithin, type Grid } from '../rhythm/grid';
import type { TimedEvent } from './midi';
import { writtenOnGrid } from './midiCopy';

/** The drum channel, and the two wood blocks on it (General MIDI 1). */
const DRUMS = 9;
const BLOCKS = { accented: 76, plain: 77 };
const SHORT = 0.05;

interface Told {
  name: string;
  grid: Grid;
  key: Key | null;
  /** The click is written from 0 to here, seconds. */
  end: number;
  /** Where the file ends, at the earliest there; seconds. */
  last?: number;
  markers: readonly { time: number; name: string }[];
}

/**
 * Tempo, time signature, key and bars as a Standard MIDI File of format 1, with the click as notes on the drum channel. It begins with the bar
 * line at or before 0.
 */
export function gridMidi({ name, grid, key, end, last = end, markers }: Told): Uint8Array {
  const at = (time: number, event: object): TimedEvent => ({ time, event: event as MidiEvent });
  const meta = (time: number, type: string, text: string) => at(time, { type, meta: true, text });
  const strokes = beatsWithin(grid, 0, end).flatMap(({ time, place }) => {
    const noteNumber = Math.abs(place) < 1e-6 ? BLOCKS.accented : BLOCKS.plain;
    const note = { channel: DRUMS, noteNumber };
    return [
      at(time, { type: 'noteOn', ...note, velocity: noteNumber === BLOCKS.accented ? 112 : 80 }),
      at(time + SHORT, { type: 'noteOff', ...note, velocity: 0 }),
    ];
  });
  // The last stroke may ring on beyond it.
  const over = strokes[strokes.length - 1]?.time ?? 0;
  const stop = at(Math.max(end, last, over), { type: 'endOfTrack', meta: true });
  const marked = markers.map((one) => meta(Math.max(0, one.time), 'marker', one.name));
  const bars = [meta(0, 'trackName', name), ...marked, meta(end, 'marker', 'end'), stop];
  return writtenOnGrid([bars, [meta(0, 'trackName', 'click'), ...strokes, stop]], grid, key);
}
