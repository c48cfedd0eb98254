import { z } from 'zod';
import { keyValue } from '../harmony/keyValue';
import { sampleKind } from '../measurement/schema';
import { gridValue } from '../rhythm/grid';

/** Hits beyond these are not known of: an hour of dense playing has as many. */
export const MOST_HITS = 40_000;

/** What a derived sample is made from, as it was settled when the recipe was written: a later change alters nothing. */
const parentValue = z.object({
  sampleId: z.uuid(),
  name: z.string().max(300),
  /** Of the original's bytes. */
  sha256: z.string().length(64),
  /** The revision that was seen. */
  sequence: z.int().nullable(),
  kind: sampleKind.nullable(),
  durationSeconds: z.number().positive(),
  grid: gridValue.nullable(),
  key: keyValue.nullable(),
  tuningCents: z.number().nullable(),
  /** Whole bars of all of it. */
  bars: z.number().nullable().default(null),
  /** Hits that keep their sound, seconds, rising. */
  hits: z.array(z.number()).max(MOST_HITS),
  isProved: z.boolean(),
});
export type Parent = z.infer<typeof parentValue>;

/** What counts in: the click, or the sample's own first hit on every beat. */
export const COUNTED_WITH = ['click', 'its first hit'] as const;

export const FADE_SHAPES = ['equal power', 'linear'] as const;
export const TAILS = ['cut', 'rings on', 'over the beginning'] as const;

/** The longest tail that is taken along, seconds. */
export const LONGEST_TAIL = 20;

/** A stretch of bars, and what happens at its edges. */
const regionValue = z.object({
  /** Felt beats of the parent's grid; the fraction counts. */
  from: z.number(),
  to: z.number(),
  /** Both edges are moved by so much (onto an attack, to a quiet place), so that the length stays. */
  shiftSeconds: z.number().min(-0.1).max(0.1).default(0),
  /** Beats before the beginning that are kept in front of it. */
  pickupBeats: z.number().min(0).max(64).default(0),
  fadeInMs: z.number().min(0).max(10_000).default(0),
  fadeOutMs: z.number().min(0).max(10_000).default(0),
  /** What stands before the beginning is faded in over the end, so that it turns without a seam. */
  crossfadeMs: z.number().min(0).max(2_000).default(0),
  shape: z.enum(FADE_SHAPES).default('equal power'),
  tail: z.enum(TAILS).default('cut'),
  /** How much of what rings on is taken. */
  tailSeconds: z.number().min(0).max(LONGEST_TAIL).default(0),
  /** Where it goes over the end of the file, silence stands for what is missing. */
  pad: z.boolean().default(false),
});
export type Region = z.infer<typeof regionValue>;

/** How a grid that moves is brought to one tempo: every beat to its place, every bar (its beats keep their feel), or not at all. */
export const EVENINGS = ['beat', 'bar', 'no'] as const;

const timeValue = z.object({
  /** Of the result, BPM of its felt beats; null: as it is. */
  tempoBpm: z.number().min(10).max(1000).nullable().default(null),
  /** How many beats of the result one of the parent becomes. */
  level: z.number().positive().default(1),
  even: z.enum(EVENINGS).default('no'),
  /** The stretch becomes exactly so many beats of that tempo, however long it was; null: as many as it has. */
  exactBeats: z.number().positive().max(10_000).nullable().default(null),
});

/** Places in a beat that hits are drawn to. */
export const NOTE_PARTS = [1, 2, 3, 4, 6, 8] as const;

/** The feel of a sample: how late its hits are at each place in the bar, ms; null where it has none. */
const feelValue = z.object({
  of: z.string().max(300),
  /** Equal parts of a felt beat that are told apart. */
  parts: z.int().min(1).max(12),
  lateMs: z.array(z.number().nullable()).max(400),
});
export type Feel = z.infer<typeof feelValue>;

const hitsValue = z.object({
  /** Single hits that are moved: from a place in the parent, seconds, by so many ms of the result. */
  moves: z
    .array(z.object({ at: z.number(), ms: z.number().min(-500).max(500) }))
    .max(2000)
    .default([]),
  /** All hits are drawn towards the grid by this share. */
  pull: z.number().min(0).max(1).default(0),
  parts: z.int().min(1).max(12).default(4),
  /** Only those that are no farther away. */
  windowMs: z.number().min(1).max(250).default(60),
  /** Where the second of two halves of a beat stands: null as it is played, 0.5 straight. */
  swing: z.number().min(0.5).max(0.75).nullable().default(null),
  feel: feelValue.nullable().default(null),
  feelShare: z.number().min(0).max(1).default(1),
});
export type HitMoves = z.infer<typeof hitsValue>;

const pitchValue = z.object({
  semitones: z.number().min(-24).max(24).default(0),
  cents: z.number().min(-100).max(100).default(0),
  holdFormants: z.boolean().default(false),
  /** Pitch follows speed; semitones and cents are what comes of it. */
  tape: z.boolean().default(false),
});

/** `midi`: of a performance, its notes and not their sound. */
export const FORMATS = ['wav 16', 'wav 24', 'wav 32 float', 'flac 16', 'flac 24', 'midi'] as const;
export type WriteFormat = (typeof FORMATS)[number];
/** Those that hold sound. */
export const AUDIO_FORMATS = FORMATS.filter((one) => one !== 'midi');
export type AudioWriteFormat = (typeof AUDIO_FORMATS)[number];
/** What files of a format end with, without the dot. */
export const ENDINGS: Readonly<Record<WriteFormat, string>> = {
  ...{ 'wav 16': 'wav', 'wav 24': 'wav', 'wav 32 float': 'wav', 'flac 16': 'flac', 'flac 24': 'flac' },
  midi: 'mid',
};
/** Rates that can be written, Hz. */
export const RATES = [44_100, 48_000, 88_200, 96_000] as const;

const writeValue = z.object({
  format: z.enum(FORMATS).default('wav 24'),
  /** null: as the parent's. */
  sampleRate: z.int().min(8_000).max(192_000).nullable().default(null),
  gainDb: z.number().min(-60).max(24).default(0),
  /** All stems of a set are made quieter by as much, so that the loudest of them does not clip and they keep their balance. */
  setDb: z.number().min(0).max(120).default(0),
  /** What would be louder than full scale: all of it is made quieter, as much as it takes, or it is not written. */
  tooLoud: z.enum(['quieter', 'refuse']).default('quieter'),
});

/** Every step from a parent to a derived sample, as data: the same recipe always comes to the same file. */
export const recipe = z.object({
  parent: parentValue,
  /** null: all of it. */
  region: regionValue.nullable().default(null),
  time: timeValue.prefault({}),
  hits: hitsValue.prefault({}),
  pitch: pitchValue.prefault({}),
  /** How often the stretch is heard; more than once only what turns. */
  times: z.int().min(1).max(4096).default(1),
  /** What stands before and behind the stretch in the parent is kept in front of its first and behind its last time. */
  keepAround: z.boolean().default(false),
  /** Bars of click in front; bar 1 stays bar 1. */
  countInBars: z.int().min(0).max(8).default(0),
  countInWith: z.enum(COUNTED_WITH).default('click'),
  /** The click of the result alone, as long as it is: a file to play along to. */
  clickOnly: z.boolean().default(false),
  write: writeValue.prefault({}),
  /** What becomes of it: a loop turns, a one-shot does not. */
  kind: sampleKind,
  name: z.string().trim().min(1).max(300),
});
export type Recipe = z.infer<typeof recipe>;

/** The longest that is made at once, seconds. */
export const LONGEST_MADE = 3600;
export type RecipeInput = z.input<typeof recipe>;
