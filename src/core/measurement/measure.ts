import { beginningHeld } from '../rhythm/movingGrid';
import { totalChroma } from '../harmony/chroma';
import { estimateKey, type KeyEstimate } from '../harmony/key';
import { chordOf, tonalFocus } from '../harmony/chord';
import { tonicName, type Key } from '../harmony/keyNames';
import { tonalShare } from '../harmony/pitchSpectrum';
import { midiNoteName, rootNote, type NotePitch } from '../harmony/rootNote';
import { rhythmHypotheses, type RhythmHypothesis, type RhythmOptions } from '../rhythm/hypotheses';
import { gridBeats } from '../rhythm/lattice';
import type { Onset } from '../rhythm/onsets';
import { measureSwing } from '../rhythm/swing';
import { median } from '../math/median';
import { mod } from '../math/mod';
import { silenceAbsurd } from '../signal/pcm';
import { activeStretch, type Stretch } from './activeStretch';
import { measureCharacter } from './character';
import { believed, believedAlone, believedTempi, hasDownbeatAt, nearest } from './beliefs';
import { exactTempo } from './exactTempo';
import { tellKind } from './kind';
import { scaleSureness } from './lessSure';
import { createListener, type Heard } from './listening';
import type { Remark } from './remark';
import type { Measurement } from './schema';

/** What somebody says about the recording before it is measured, and how sure that is, 0 … 1. */
export interface Expected {
  tempo?: { bpm: number; sureness: number };
  key?: Key & { sureness: number };
}

export interface MeasureOptions extends Omit<RhythmOptions, 'expected' | 'free'> {
  expected?: Expected;
  /** A MIDI performance, whatever its length and form; it is measured as the loop or song that it is played like. */
  performance?: boolean;
  /** It is known that nothing in it has a pitch. */
  unpitched?: boolean;
}

/** Nothing shorter has a rhythm to speak of. */
const SHORTEST_RHYTHM_SECONDS = 0.8;

/** What is left of a confidence where it is speech that was measured. */
const SURE_OF_SPEECH = 0.5;

/** What has a pitch has at least so much of its chroma on one triad; drums and hiss have less. */
const LEAST_FOCUS = 0.5;

/** The stages of measuring, in order, with the share of the whole that is done when each begins. */
export const STAGES = { listening: 0, rhythm: 0.75, decision: 0.97 } as const;
export type Stage = keyof typeof STAGES;

/**
 * Decides what a recording is from what was heard in it: features → hypotheses → one decision. Never throws
 * for odd audio: what cannot be measured is null and `remarks` says why. `onStage` is told as each stage
 * begins and may throw to cancel.
 */
export function decide(
  heard: Heard,
  options: MeasureOptions = {},
  onStage: (stage: Stage) => void = () => {},
): Measurement {
  onStage('rhythm');
  const hypotheses = explainRhythm(heard, options);
  onStage('decision');
  return conclude(heard, hypotheses, options);
}

/** All explanations of the recording's rhythm, best first; none where it is too short or silent. */
export function explainRhythm(heard: Heard, options: MeasureOptions = {}): RhythmHypothesis[] {
  const { durationSeconds, features, onsets, chroma, peaks } = heard;
  const active = activeStretch(features);
  if (!active || durationSeconds < SHORTEST_RHYTHM_SECONDS) return [];
  return rhythmHypotheses(
    {
      durationSeconds,
      features,
      onsets,
      chords: chroma.all,
      bass: chroma.bass,
      tonal: tonalShare(peaks),
      active,
    },
    { ...options, expected: options.expected?.tempo, free: options.performance },
  );
}

/** The decision once the explanations of the rhythm are ranked. */
export function conclude(
  heard: Heard,
  hypotheses: readonly RhythmHypothesis[],
  options: MeasureOptions = {},
): Measurement {
  const { durationSeconds, features, onsets, peaks, tuningCents, chroma, spoken } = heard;
  const active = activeStretch(features);
  if (!active) return nothing(durationSeconds, { code: 'only silence' });
  const { kind, kindSureness } = tellKind(heard, active, hypotheses);
  const told = options.performance ? { kind: 'midi' as const, kindSureness: 1 } : { kind, kindSureness };
  const remarks: Remark[] = [];
  const result: Measurement = {
    ...nothing(durationSeconds),
    ...told,
    onsets: onsets.map(({ time, strength }) => ({ time: round(time, 6), strength: round(strength, 3) })),
    character: measureCharacter(features, onsets, active, heard.envelope),
    chroma: Array.from(totalChroma(chroma.all), (share) => round(share, 4)),
    remarks,
  };
  if (told.kind === 'oneshot')
    addRoot(result, rootNote(peaks), estimateKey(chroma, peaks, options.expected?.key));
  else if (options.unpitched) remarks.push({ code: 'only drums' });
  else addKey(result, estimateKey(chroma, peaks, options.expected?.key), tuningCents);
  if (told.kind === 'oneshot') remarks.push({ code: 'one-shot' });
  else if (hypotheses.length === 0) remarks.push({ code: 'nothing repeats' });
  else addRhythm(result, hypotheses, onsets, active, kind === 'loop');
  if (spoken && !options.performance) {
    result.spoken = true;
    remarks.push({ code: 'speech' });
    scaleSureness(result, SURE_OF_SPEECH);
  }
  return result;
}

/** Measures a whole mono mix at ANALYSIS_RATE that is in memory; what is not a number counts as silence. */
export function measureAudio(
  mono: Float32Array,
  options: MeasureOptions = {},
  onStage: (stage: Stage) => void = () => {},
): Measurement {
  onStage('listening');
  const clean = mono.slice();
  silenceAbsurd(clean);
  const listener = createListener();
  listener.push(clean);
  return decide(listener.finish(), options, onStage);
}

/** A measurement that has found nothing, with its reasons. */
export function nothing(durationSeconds: number, ...remarks: Remark[]): Measurement {
  return {
    kind: 'oneshot',
    kindSureness: 0.5,
    durationSeconds,
    tempo: null,
    theOne: null,
    theOneSureness: null,
    beats: [],
    downbeats: [],
    meter: null,
    bars: null,
    barTempiBpm: [],
    loop: null,
    rootNote: null,
    key: null,
    tuningCents: null,
    swing: null,
    chroma: null,
    character: null,
    spoken: false,
    onsets: [],
    remarks,
  };
}

/**
 * A one-shot has a root, no key: what stands as its key is that root, with the mode that its other notes speak for, so
 * that it is found and moved by it. Of a chord it is the chord's root, which need not be its loudest note. Nothing where
 * no pitch lasts, or where what lasts is spread over all notes as with drums.
 */
function addRoot(result: Measurement, found: NotePitch | null, { ranked }: KeyEstimate) {
  const { chroma } = result;
  if (!found || !chroma || tonalFocus(chroma) < LEAST_FOCUS) {
    result.remarks.push({ code: 'no root' });
    return;
  }
  const chord = chordOf(chroma);
  const midi = chord ? found.midi - mod(found.midi - chord.root, 12) : found.midi;
  const tonic = midi % 12;
  result.rootNote = { note: midiNoteName(midi), cents: found.cents, chord: chord?.mode ?? null };
  const same = ranked.filter((one) => one.tonic === tonic);
  const share = (interval: number) => chroma[(tonic + interval) % 12];
  const mode = chord?.mode ?? same[0]?.mode ?? (share(3) > share(4) ? 'minor' : 'major');
  const sureness = round(
    Math.max(
      0.5,
      same.reduce((sum, one) => sum + one.sureness, 0),
    ),
    4,
  );
  result.key = { tonic: tonicName({ tonic, mode }), mode, sureness: Math.min(1, sureness), alternatives: [] };
  result.tuningCents = found.cents;
}

function addKey(result: Measurement, estimate: KeyEstimate, tuningCents: number) {
  if (estimate.ranked.length === 0) {
    result.remarks.push({ code: 'no key' });
    return;
  }
  const [best, ...others] = estimate.ranked.map((entry) => ({
    tonic: tonicName(entry),
    mode: entry.mode,
    sureness: round(entry.sureness, 4),
  }));
  result.key = { ...best, alternatives: others };
  result.tuningCents = round(tuningCents, 1);
}

function addRhythm(
  result: Measurement,
  hypotheses: readonly RhythmHypothesis[],
  onsets: readonly Onset[],
  active: Stretch,
  isLoop: boolean,
) {
  const tempi = believedTempi(hypotheses);
  const best = tempi[0].best;
  const { bar } = best;
  const size = bar.beatsPerBar;
  const span = isLoop ? bar.spans[0] : undefined;
  const exact = exactTempo(best, span, onsets, result.durationSeconds, result.kind === 'midi');
  const bpm = exact?.bpm ?? best.bpm;
  const barSeconds = (60 / bpm) * size;
  let beats = Array.from(best.beats);
  let { phase } = bar;
  if (exact) {
    // The downbeat keeps its number while the grid is laid again.
    const arranged = gridBeats(exact.anchor, 60 / bpm, result.durationSeconds);
    phase = mod(nearest(arranged, best.beats[Math.min(phase, best.beats.length - 1)]), size);
    beats = Array.from(arranged);
  }
  // Notes of a performance are known exactly, its first one too.
  if (!best.steady && result.kind !== 'midi') beats = beginningHeld(beats);
  const downbeats = beats.filter((_, k) => k >= phase && (k - phase) % size === 0);
  const from = (span ? span.start : active.start) - 0.1 * barSeconds;
  const entry = downbeats.find((beat) => beat >= from) ?? downbeats[0] ?? active.start;
  const theOne = !isLoop ? firstPlayed(downbeats, entry, beats, onsets) : entry;
  const compound = size === 2;
  result.tempo = {
    bpm: round(bpm, 4),
    sureness: round(tempi[0].sureness, 4),
    alternatives: tempi
      .slice(1, 6)
      .map((other) => ({ bpm: round(other.best.bpm, 4), sureness: round(other.sureness, 4) })),
    steady: best.steady,
    bpmError: best.steady ? round(exact?.bpmError ?? 0, 5) : null,
  };
  result.beats = beats.map((beat) => round(Math.max(0, beat), 6));
  result.downbeats = downbeats
    .filter((beat) => beat >= entry - 1e-6)
    .map((beat) => round(Math.max(0, beat), 6));
  result.theOne = round(Math.max(0, theOne), 6);
  result.meter = {
    beatsPerBar: compound ? 6 : size,
    beatUnit: compound || size === 7 ? 8 : 4,
    sureness: round(
      believed(hypotheses, (_, { beatsPerBar }) => beatsPerBar === size),
      4,
    ),
  };
  result.theOneSureness = round(
    believed(hypotheses, (lattice, bar) => hasDownbeatAt(lattice.beats, bar, theOne)),
    4,
  );
  result.bars = span ? span.bars : Math.max(1, Math.round((active.end - theOne) / barSeconds));
  result.barTempiBpm = result.downbeats
    .slice(1)
    .map((beat, i) => round((60 * size) / (beat - result.downbeats[i]), 3));
  result.swing = measureSwing(onsets, beats);
  if (isLoop) {
    const bars = result.bars;
    const belief = span
      ? 1 / bar.spans.reduce((sum, other) => sum + Math.exp(other.score - span.score), 0)
      : 0.5;
    result.loop = {
      start: result.theOne,
      end: round(result.theOne + bars * barSeconds, 6),
      bars,
      sureness: round(bar.belief * tempi[0].sureness * belief, 4),
    };
  }
  const alone = believedAlone(hypotheses);
  if (Math.abs(alone / best.bpm - 1) > OTHER_TEMPO)
    result.remarks.push({ code: 'as in library', bpm: round(alone, 1) });
  if (!best.steady) result.remarks.push({ code: 'tempo moves' });
  if (tempi[0].sureness < 0.6 && tempi.length > 1)
    result.remarks.push({ code: 'another tempo', bpm: round(tempi[1].best.bpm, 1) });
}

/** Tempi that differ by more than this are another one. */
const OTHER_TEMPO = 0.04;
/** A hit this near to a beat is on it, seconds. */
const ON_THE_BEAT = 0.04;
/** The beat of a piece is looked for in this share of its bars; where it has not begun by then there is none. */
const LONGEST_INTRO = 0.4;

/**
 * The downbeat at which the beat begins. Bars before it are an intro without beat, with its pickup: fewer of
 * their beats are hit than is usual in the piece, under three quarters, or under half where the downbeat is
 * among them. `entry` where there is no such bar.
 */
function firstPlayed(
  downbeats: readonly number[],
  entry: number,
  beats: readonly number[],
  onsets: readonly Onset[],
): number {
  const isHit = (beat: number) => onsets.some(({ time }) => Math.abs(time - beat) < ON_THE_BEAT);
  const lines = downbeats.filter((beat) => beat >= entry - 1e-6);
  const bars = lines.slice(0, -1).map((line, i) => ({
    line,
    onOne: isHit(line),
    hits: beats.filter((beat) => beat >= line - 1e-6 && beat < lines[i + 1] - 1e-6 && isHit(beat)).length,
  }));
  if (bars.length === 0) return entry;
  const usual = median(bars.map(({ hits }) => hits));
  return (
    bars
      .slice(0, Math.ceil(bars.length * LONGEST_INTRO))
      .find(({ onOne, hits }) => hits >= (onOne ? 0.5 : 0.75) * usual)?.line ?? entry
  );
}

function round(value: number, digits: number): number {
  const scale = 10 ** digits;
  return Math.round(value * scale) / scale;
}
