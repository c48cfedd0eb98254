import type { MidiEvent } from 'midi-file';
import { eventsInTime, type TimedEvent } from '../formats/midi';
import { laterWritten, writtenOnGrid } from '../formats/midiCopy';
import { laterBy } from '../timeStretch/plan';
import { timeMap, toResult } from '../timeStretch/timeMap';
import type { Recipe } from './recipe';
import { movedHits } from './hitMoves';
import { renderPlanOf, type RenderPlan } from './renderPlan';
import { RecipeError } from './recipeError';

/** Times are thought of in frames of this many a second: a note then stands within a hundredth of a millisecond. */
const RATE = 96_000;
const DRUM_CHANNEL = 9;
/** A note is never shorter, seconds. */
const SHORTEST_NOTE = 0.01;

/**
 * Follows a recipe with the notes of a performance: the same maps as for sound, but each note is moved by itself, so that notes of a
 * chord may meet. Notes keep how long they are held, other events stay where the map puts them; the file is written on the result's own
 * bars and beats. Throws RecipeError, and UndecodableError for bytes that are no Standard MIDI File.
 */
export function midiMade(bytes: Uint8Array, recipe: Recipe): { bytes: Uint8Array; plan: RenderPlan } {
  const { parent, hits, pitch, write } = recipe;
  const plan = renderPlanOf(
    {
      ...{ ...recipe, times: 1, countInBars: 0, write: { ...write, format: 'midi' } },
      ...{ parent: { ...parent, hits: [] }, hits: { ...hits, moves: [] } },
    },
    Math.round(parent.durationSeconds * RATE),
    RATE,
  );
  if (!plan.grid)
    throw new RecipeError('Without a grid there are no bars that the notes could be written on.');
  const first = plan.first / RATE;
  const { source, result } = plan.timeStretch.map!;
  const map = timeMap(
    source.map((frame) => frame / RATE),
    result.map((frame) => frame / RATE),
  );
  const end = source[source.length - 1] / RATE;
  const tracks = eventsInTime(bytes);
  const starts = tracks.flatMap((track) =>
    track.filter(({ event }) => isOn(event)).map(({ time }) => time - first),
  );
  const wanted = { ...hits, moves: hits.moves.map(({ at, ms }) => ({ at: at - first, ms })) };
  const moved = new Map(movedHits(starts, map, plan.grid, wanted).map(({ at, to }) => [at, to]));
  const semitones = Math.round(pitch.semitones);
  const written = tracks.map((track) => {
    /** Notes that sound: by how much each is moved beside the map; null where it is not taken. */
    const sounding = new Map<string, (number | null)[]>();
    const placed: TimedEvent[] = [];
    for (const { time, event } of track) {
      const at = time - first;
      const there = toResult(map, at);
      if (!isNote(event)) {
        // What is set before the stretch holds from its beginning on.
        if (at < end && event.type !== 'endOfTrack') placed.push({ time: Math.max(0, there), event });
        continue;
      }
      const name = `${event.channel} ${event.noteNumber}`;
      const key = event.channel === DRUM_CHANNEL ? event.noteNumber : event.noteNumber + semitones;
      const shifted = { ...event, noteNumber: Math.max(0, Math.min(127, key)) };
      if (isOn(event)) {
        const isTaken = at >= -1e-6 && at < end - 1e-6;
        const to = moved.get(at) ?? there;
        sounding.set(name, [...(sounding.get(name) ?? []), isTaken ? Math.max(0, to) - there : null]);
        if (isTaken) placed.push({ time: Math.max(0, to), event: shifted });
      } else {
        const by = sounding.get(name)?.shift();
        if (by === null || by === undefined) continue;
        placed.push({ time: Math.max(SHORTEST_NOTE, toResult(map, Math.min(at, end)) + by), event: shifted });
      }
    }
    placed.sort((a, b) => a.time - b.time || Number(isOn(a.event)) - Number(isOn(b.event)));
    const last = placed[placed.length - 1]?.time ?? 0;
    return [...placed, { time: last, event: { type: 'endOfTrack', meta: true, deltaTime: 0 } as MidiEvent }];
  });
  if (!written.some((track) => track.some(({ event }) => isOn(event))))
    throw new RecipeError('No note begins in the stretch.');
  const hitTimes = [
    ...new Set(written.flatMap((track) => track.filter(({ event }) => isOn(event)).map(({ time }) => time))),
  ];
  const later = laterWritten(plan.grid);
  return {
    bytes: writtenOnGrid(written, plan.grid, plan.key),
    plan: {
      ...plan,
      grid: laterBy(plan.grid, later),
      hits: hitTimes.map((time) => time + later).sort((a, b) => a - b),
    },
  };
}

type NoteEvent = Extract<MidiEvent, { type: 'noteOn' | 'noteOff' }>;
const isNote = (event: MidiEvent): event is NoteEvent => event.type === 'noteOn' || event.type === 'noteOff';
const isOn = (event: MidiEvent) => event.type === 'noteOn' && event.velocity > 0;
