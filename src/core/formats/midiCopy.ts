import { writeMidi, type MidiEvent } from 'midi-file';
import { beatPosition, beatTime, feltBeatsPerBar, type Grid } from '../rhythm/grid';
import { eventsInTime, type TimedEvent } from './midi';

const TICKS_PER_QUARTER = 960;
/** Key signatures by the number of fifths from C major. */
const FIFTHS = Array.from({ length: 12 }, (_, pitch) => ((pitch * 7 + 5) % 12) - 5);
const REPLACED = new Set(['setTempo', 'timeSignature', 'keySignature']);

/**
 * The same performance, every event at its time, written on the bars and beats of a grid: what was played
 * freely opens in step with a sequencer's own beat. The copy begins with the bar line at or before the first
 * event, hence with up to a bar of silence. A moving grid becomes a tempo for each beat. Throws
 * UndecodableError for bytes that are no Standard MIDI File.
 */
export function onGrid(
  bytes: Uint8Array,
  grid: Grid,
  key: { tonic: number; mode: 'major' | 'minor' } | null,
): Uint8Array {
  return writtenOnGrid(eventsInTime(bytes), grid, key);
}

/** The beat that a written performance begins with: the bar line at or before its beginning. */
function firstBeatWritten(grid: Grid): number {
  const size = feltBeatsPerBar(grid.meter);
  return Math.floor(beatPosition(grid, 0) / size + 1e-6) * size;
}

/** By how many seconds a written performance stands later than it was: it begins with a bar line. */
export const laterWritten = (grid: Grid): number => -beatTime(grid, firstBeatWritten(grid));

/** Events in time as a Standard MIDI File on the bars and beats of a grid. */
export function writtenOnGrid(
  tracks: readonly (readonly TimedEvent[])[],
  grid: Grid,
  key: { tonic: number; mode: 'major' | 'minor' } | null,
): Uint8Array {
  const last = Math.max(...tracks.map((track) => track[track.length - 1]?.time ?? 0));
  const { meter } = grid;
  const size = feltBeatsPerBar(meter);
  const quartersPerBeat = (4 * meter.beatsPerBar) / meter.beatUnit / size;
  const firstBeat = firstBeatWritten(grid);
  const tickAt = (beat: number) => Math.round((beat - firstBeat) * quartersPerBeat * TICKS_PER_QUARTER);
  const microsecondsOf = (beat: number) =>
    Math.round((1e6 * (beatTime(grid, beat + 1) - beatTime(grid, beat))) / quartersPerBeat);

  const head: { tick: number; event: Timeless }[] = [
    {
      tick: 0,
      event: {
        type: 'timeSignature',
        meta: true,
        numerator: meter.beatsPerBar,
        denominator: meter.beatUnit,
        metronome: Math.round(24 * quartersPerBeat),
        thirtyseconds: 8,
      },
    },
    ...(key ? [{ tick: 0, event: keySignature(key) }] : []),
    { tick: 0, event: { type: 'setTempo', meta: true, microsecondsPerBeat: microsecondsOf(firstBeat) } },
  ];
  if (grid.movingBeats) {
    const end = beatPosition(grid, last);
    for (let beat = firstBeat + 1, before = microsecondsOf(firstBeat); beat <= end; beat++) {
      const microsecondsPerBeat = microsecondsOf(beat);
      if (microsecondsPerBeat !== before)
        head.push({ tick: tickAt(beat), event: { type: 'setTempo', meta: true, microsecondsPerBeat } });
      before = microsecondsPerBeat;
    }
  }
  const written = tracks.map((track, t) => {
    const own = track
      .filter(({ event }) => !REPLACED.has(event.type))
      .map(({ time, event }) => ({ tick: tickAt(beatPosition(grid, time)), event }));
    const all = t === 0 ? [...head, ...own].sort((a, b) => a.tick - b.tick) : own;
    let before = 0;
    return all.map(({ tick, event }) => {
      const deltaTime = tick - before;
      before = tick;
      return { ...event, deltaTime } as MidiEvent;
    });
  });
  return Uint8Array.from(
    writeMidi({
      header: {
        format: written.length > 1 ? 1 : 0,
        numTracks: written.length,
        ticksPerBeat: TICKS_PER_QUARTER,
      },
      tracks: written,
    }),
  );
}

type Timeless = Record<string, unknown> & { type: string };

function keySignature({ tonic, mode }: { tonic: number; mode: 'major' | 'minor' }): Timeless {
  const relative = mode === 'minor' ? (tonic + 3) % 12 : tonic;
  return { type: 'keySignature', meta: true, key: FIFTHS[relative], scale: mode === 'minor' ? 1 : 0 };
}
