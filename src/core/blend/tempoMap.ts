import type { MidiEvent } from 'midi-file';
import { writtenOnGrid } from '../formats/midiCopy';
import type { TimedEvent } from '../formats/midi';
import { laterBy } from '../fit/plan';
import { beatsWithin } from '../rhythm/grid';
import type { Blend } from '../library/blend';
import { extentOf } from './mixdown';
import type { Score } from './score';

/** The drum channel, and the two wood blocks on it (General MIDI 1). */
const DRUMS = 9;
const BLOCKS = { accented: 76, plain: 77 };
const SHORT = 0.05;

/**
 * Tempo, meter, key and bars of a blend as a Standard MIDI File of format 1: a marker where a lane begins, the click as notes on
 * the drum channel. It begins where a render of the blend does.
 */
export function tempoMapOf({ name, key }: Blend, score: Score): Uint8Array {
  const { from, to } = extentOf(score);
  const grid = laterBy(score.grid, -from);
  const at = (time: number, event: object): TimedEvent => ({ time, event: event as MidiEvent });
  const meta = (time: number, type: string, text: string) => at(time, { type, meta: true, text });
  const markers = score.lanes
    .flatMap(({ lane, parts }) => (parts.length > 0 ? [{ name: lane.name, time: parts[0].start }] : []))
    .sort((a, b) => a.time - b.time)
    .map((one) => meta(Math.max(0, one.time - from), 'marker', one.name));
  const end = score.seconds - from;
  const strokes = beatsWithin(grid, 0, end).flatMap(({ time, place }) => {
    const noteNumber = Math.abs(place) < 1e-6 ? BLOCKS.accented : BLOCKS.plain;
    const note = { channel: DRUMS, noteNumber };
    return [
      at(time, { type: 'noteOn', ...note, velocity: noteNumber === BLOCKS.accented ? 112 : 80 }),
      at(time + SHORT, { type: 'noteOff', ...note, velocity: 0 }),
    ];
  });
  const last = at(Math.max(end, to - from), { type: 'endOfTrack', meta: true });
  const bars = [meta(0, 'trackName', name), ...markers, meta(end, 'marker', 'end'), last];
  return writtenOnGrid([bars, [meta(0, 'trackName', 'click'), ...strokes, last]], grid, key);
}
