import { z } from 'zod';
import { remarks } from './remark';

/** What a sample is. `stem` is not told from one file alone: it comes with a stem set. */
export const sampleKind = z.enum(['song', 'loop', 'stem', 'oneshot', 'midi']);
export type SampleKind = z.infer<typeof sampleKind>;

const sureness = z.number().min(0).max(1);
const seconds = z.number();
const bpm = z.number().positive().max(1000);

const keyValue = z.object({
  tonic: z.string().regex(/^[A-G][#b]?$/),
  mode: z.enum(['major', 'minor']),
});
export type KeyValue = z.infer<typeof keyValue>;

/** The result of measuring one recording. Times are seconds from the start of the decoded audio. */
export const measurement = z.object({
  kind: sampleKind,
  kindSureness: sureness,
  durationSeconds: seconds,
  tempo: z
    .object({
      bpm,
      sureness,
      alternatives: z.array(z.object({ bpm, sureness })),
      steady: z.boolean(),
      /** Standard error of a steady tempo, BPM. */
      bpmError: z.number().nonnegative().nullable(),
    })
    .nullable(),
  /** The first downbeat; what is before it is pickup. */
  theOne: seconds.nullable(),
  /** Belief that a downbeat stands there, over all explanations of the rhythm. */
  theOneSureness: sureness.nullable().default(null),
  beats: z.array(seconds),
  downbeats: z.array(seconds),
  meter: z
    .object({ beatsPerBar: z.int().min(1).max(32), beatUnit: z.int().min(1).max(32), sureness })
    .nullable(),
  bars: z.int().nonnegative().nullable(),
  barTempiBpm: z.array(bpm),
  loop: z.object({ start: seconds, end: seconds, bars: z.int().positive(), sureness }).nullable(),
  /** Where it is a chord: its root, and the chord's mode. */
  rootNote: z
    .object({
      note: z.string(),
      cents: z.number(),
      chord: z.enum(['major', 'minor']).nullable().default(null),
    })
    .nullable(),
  key: keyValue.extend({ sureness, alternatives: z.array(keyValue.extend({ sureness })) }).nullable(),
  tuningCents: z.number().nullable(),
  swing: z.number().nullable(),
  /** Share of each pitch class, C first; null for silence, and in what was measured before it was kept. */
  chroma: z.array(z.number()).length(12).nullable().default(null),
  /** What tags are proposed from; null for silence. */
  character: z
    .object({
      onsetsPerSecond: z.number(),
      centroidHz: z.number(),
      flatness: z.number(),
      decaySeconds: seconds.nullable(),
      attackMs: z.number().nullable().default(null),
    })
    .nullable(),
  /** It is speech: what was measured of it means little. */
  spoken: z.boolean().default(false),
  onsets: z.array(z.object({ time: seconds, strength: z.number() })),
  /** Why something is null or unsure. */
  remarks,
});
export type Measurement = z.infer<typeof measurement>;
