import { chromaFrames } from '../harmony/chroma';
import { estimateKey, type KeyEstimate } from '../harmony/key';
import { tonicName } from '../harmony/keyNames';
import { HARMONY_RATE, pitchPeaks } from '../harmony/pitchSpectrum';
import { rootNote } from '../harmony/rootNote';
import { estimateTuning } from '../harmony/tuning';
import { rhythmHypotheses, type RhythmHypothesis, type RhythmOptions } from '../rhythm/meterHypotheses';
import { ANALYSIS_RATE, onsetFeatures } from '../rhythm/onsetFeatures';
import { findOnsets, type Onset } from '../rhythm/onsets';
import { measureSwing } from '../rhythm/swing';
import { periodicity } from '../rhythm/tempogram';
import { resample } from '../signal/resample';
import { activeStretch, type Stretch } from './activeStretch';
import { measureCharacter } from './character';
import { exactFromLength } from './exactFromLength';
import { tellKind } from './kind';
import type { Measurement } from './schema';

export type MeasureOptions = RhythmOptions;

/** The stages of measuring, in order, with the share of the whole that is done when each begins. */
export const STAGES = { onsets: 0, harmony: 0.35, rhythm: 0.65, decision: 0.95 } as const;
export type Stage = keyof typeof STAGES;

/**
 * Measures a recording: bytes → PCM came before; here PCM → features → hypotheses → one decision.
 * `mono` is the mean of all channels at ANALYSIS_RATE. Never throws for odd audio: what cannot be
 * measured is null and `remarks` says why. `onStage` is told as each stage begins and may throw to cancel.
 */
export function measureAudio(
  mono: Float32Array,
  options: MeasureOptions = {},
  onStage: (stage: Stage) => void = () => {},
): Measurement {
  const durationSeconds = mono.length / ANALYSIS_RATE;
  onStage('onsets');
  const features = onsetFeatures(mono);
  const active = activeStretch(features);
  if (!active) return nothing(durationSeconds, 'There is only silence.');
  const onsets = findOnsets(features, mono);

  onStage('harmony');
  const peaks = pitchPeaks(resample(mono, ANALYSIS_RATE, HARMONY_RATE));
  const tuningCents = estimateTuning(peaks);
  const chroma = chromaFrames(peaks, tuningCents);
  const key = estimateKey(chroma, peaks);

  onStage('rhythm');
  const hypotheses =
    durationSeconds >= 0.8
      ? rhythmHypotheses(features, onsets, chroma.all, periodicity(features.strength), options)
      : [];

  onStage('decision');
  const { kind, kindSureness } = tellKind(features, onsets, active, hypotheses, durationSeconds);
  const remarks: string[] = [];
  const result: Measurement = {
    ...nothing(durationSeconds),
    kind,
    kindSureness,
    onsets: onsets.map(({ time, strength }) => ({ time: round(time, 6), strength: round(strength, 3) })),
    character: measureCharacter(features, onsets, active),
    remarks,
  };
  if (kind === 'oneshot') result.rootNote = rootNote(peaks);
  addKey(result, key, tuningCents);
  if (kind === 'oneshot') remarks.push('A one-shot has no tempo.');
  else if (hypotheses.length === 0) remarks.push('Nothing repeats often enough for a tempo.');
  else addRhythm(result, hypotheses, onsets, active);
  return result;
}

function nothing(durationSeconds: number, ...remarks: string[]): Measurement {
  return {
    kind: 'oneshot',
    kindSureness: 0.5,
    durationSeconds,
    tempo: null,
    theOne: null,
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
    character: null,
    onsets: [],
    remarks,
  };
}

function addKey(result: Measurement, estimate: KeyEstimate, tuningCents: number) {
  if (estimate.ranked.length === 0) {
    result.remarks.push('There is not enough lasting tone for a key.');
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

function addRhythm(result: Measurement, hypotheses: RhythmHypothesis[], onsets: Onset[], active: Stretch) {
  const best = hypotheses[0];
  const size = best.bar.beatsPerBar;
  const exact = best.steady && best.fit ? exactFromLength(best, result.durationSeconds) : null;
  const bpm = exact?.bpm ?? best.bpm;
  let beats = Array.from(best.beats);
  if (exact) beats = beats.map((_, k) => exact.anchor + k * (60 / exact.bpm));
  const downbeats = beats.filter((_, k) => k >= best.bar.phase && (k - best.bar.phase) % size === 0);
  const theOne = firstSoundingDownbeat(downbeats, active, (60 / bpm) * size);
  const from = beats.filter((beat) => beat < result.durationSeconds);
  const bar = (60 / bpm) * size;
  const compound = size === 2;
  result.tempo = {
    bpm: round(bpm, 4),
    sureness: round(best.sureness, 4),
    alternatives: distinct(hypotheses)
      .slice(1, 6)
      .map((other) => ({ bpm: round(other.bpm, 4), sureness: round(other.sureness, 4) })),
    steady: best.steady,
    bpmError: best.steady && best.fit ? round(best.fit.bpmError, 5) : null,
  };
  result.beats = from.map((beat) => round(Math.max(0, beat), 6));
  result.downbeats = downbeats
    .filter((beat) => beat >= theOne - 1e-6)
    .map((beat) => round(Math.max(0, beat), 6));
  result.theOne = round(Math.max(0, theOne), 6);
  result.meter = {
    beatsPerBar: compound ? 6 : size,
    beatUnit: compound ? 8 : best.beatUnit,
    sureness: round(best.barSureness, 4),
  };
  result.bars = Math.max(1, Math.round((active.end - theOne) / bar));
  result.barTempiBpm = result.downbeats
    .slice(1)
    .map((beat, i) => round((60 * size) / (beat - result.downbeats[i]), 3));
  result.swing = measureSwing(onsets, beats);
  if (result.kind === 'loop') {
    const bars = result.bars;
    result.loop = {
      start: result.theOne,
      end: round(result.theOne + bars * bar, 6),
      bars,
      sureness: round(best.barSureness * best.sureness, 4),
    };
  }
  if (!best.steady) result.remarks.push('The tempo moves: the grid follows the player.');
  if (best.sureness < 0.6 && hypotheses[1]) {
    result.remarks.push(`The tempo could also be ${hypotheses[1].bpm.toFixed(1)} BPM.`);
  }
}

/** Hypotheses whose tempo no better one has already, to half a percent. */
function distinct(hypotheses: RhythmHypothesis[]): RhythmHypothesis[] {
  return hypotheses.filter(
    (one, i) => !hypotheses.slice(0, i).some((better) => Math.abs(better.bpm / one.bpm - 1) < 0.005),
  );
}

/** The first downbeat that is not before the sound; up to a tenth of a bar of lateness of the first hit is forgiven. */
function firstSoundingDownbeat(downbeats: number[], active: Stretch, bar: number): number {
  return downbeats.find((beat) => beat >= active.start - 0.1 * bar) ?? downbeats[0] ?? active.start;
}

function round(value: number, digits: number): number {
  const scale = 10 ** digits;
  return Math.round(value * scale) / scale;
}
