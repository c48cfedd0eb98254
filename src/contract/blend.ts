import { z } from 'zod';
import { keyValue } from '@/core/harmony/keyValue';
import { gridValue, meterValue } from '@/core/rhythm/grid';
import { patchOf, documentName, documentOf } from './documents';

/** More lanes are refused: nobody hears them apart, and all of them are fitted. */
export const MOST_LANES = 12;
/** The longest that a blend may be, bars and seconds. */
export const MOST_BARS = 2000;
export const LONGEST_BLEND = 3600;

export const BLEND_TEMPI = { least: 20, most: 400 };
const LEVELS_DB = { least: -60, most: 12 };

const tempo = z.number().min(BLEND_TEMPI.least).max(BLEND_TEMPI.most);

/** What a lane follows when the tempo changes: the bars, or the seconds. */
const HELD = ['bars', 'time'] as const;

/**
 * What a lane is fitted to: the tempo, `level` beats of the blend for each of its own (null: what strains least); exactly
 * so many bars; or nothing.
 */
const fitValue = z.discriminatedUnion('to', [
  z.object({ to: z.literal('tempo'), level: z.number().min(0.1).max(10).nullable() }),
  z.object({ to: z.literal('bars'), bars: z.number().min(0.25).max(512) }),
  z.object({ to: z.literal('nothing') }),
]);

/** One sample on the ruler. */
export const lane = z.object({
  laneId: z.string().min(1).max(40),
  sampleId: z.uuid(),
  /** As it was called when it was put in: what is said of it when it is not there any more. */
  name: z.string().max(300),
  held: z.enum(HELD).default('bars'),
  /** Beat of the blend, 0 is the first of bar 1, at which its own bar 1 begins, or what is used of it. */
  at: z.number().min(-256).max(100_000).default(0),
  /** The same while it is held in time, seconds from bar 1. */
  atSeconds: z.number().min(-600).max(LONGEST_BLEND).default(0),
  /** Only these bars of its own; null: the loop, or all of it. */
  used: z
    .object({ from: z.int().min(-64).max(20_000), bars: z.int().min(1).max(4096) })
    .nullable()
    .default(null),
  /** How often it is heard; null: again until the others end. */
  times: z.int().min(1).max(4096).nullable().default(1),
  fit: fitValue.default({ to: 'tempo', level: null }),
  /** null: as the key of the blend asks. Without cents. */
  semitones: z.int().min(-24).max(24).nullable().default(null),
  /** null: what makes its tuning that of A = 440 Hz. */
  cents: z.number().min(-100).max(100).nullable().default(null),
  /** Pitch follows speed. */
  isTape: z.boolean().default(false),
  levelDb: z.number().min(LEVELS_DB.least).max(LEVELS_DB.most).default(0),
  pan: z.number().min(-1).max(1).default(0),
  muted: z.boolean().default(false),
  solo: z.boolean().default(false),
  /** Later by so much, ms: what its own grid does not say. */
  nudgeMs: z.number().min(-2000).max(2000).default(0),
  /** It is not moved by pulling. */
  locked: z.boolean().default(false),
  /** The timing of another lane, by a share. */
  feel: z
    .object({ of: z.string().max(40), share: z.number().min(0).max(1) })
    .nullable()
    .default(null),
});
export type Lane = z.infer<typeof lane>;
export type LaneInput = z.input<typeof lane>;

/** What becomes of the tempo and the key when a sample is put in. */
export const TEMPO_POLICIES = ['the first sets it', 'the tempo stays', 'the newcomer’s is taken'] as const;
export type TempoPolicy = (typeof TEMPO_POLICIES)[number];

/** Several samples on one ruler of bars. Beat 0 of its grid is the first of bar 1. */
export const blend = z.object({
  name: documentName,
  custom: z.enum(TEMPO_POLICIES).default('the first sets it'),
  /** The lane whose tempo and key it has. */
  lead: z.string().max(40).nullable().default(null),
  /** Of its felt beats; null before anything has set it. */
  tempoBpm: tempo.nullable().default(null),
  key: keyValue.nullable().default(null),
  meter: meterValue.default({ beatsPerBar: 4, beatUnit: 4 }),
  /** The lead's own moving beats, from its bar 1 on, where all follow its movement; null: one tempo. */
  movement: gridValue.nullable().default(null),
  /** From the beginning of a bar on it goes at another tempo. */
  changes: z
    .array(z.object({ bar: z.int().min(2).max(MOST_BARS), tempoBpm: tempo }))
    .max(64)
    .default([]),
  lanes: z.array(lane).max(MOST_LANES).default([]),
  /** It ends after so many bars, whatever goes on; null: where its lanes end. */
  endBars: z.int().min(1).max(MOST_BARS).nullable().default(null),
  /** Bars that loop, the last one included; null: all of it. */
  round: z
    .object({ from: z.int().min(1).max(MOST_BARS), to: z.int().min(1).max(MOST_BARS) })
    .nullable()
    .default(null),
});
export type Blend = z.infer<typeof blend>;

/** A round of all bars, however many there will be. */
export const ALL_BARS = { from: 1, to: MOST_BARS } as const;

/** One with nothing in it; all of it loops. */
export const emptyBlend = (name: string): Blend => blend.parse({ name, round: ALL_BARS });

/** A lane as the others are put in: a loop loops until the others end. */
export const newLane = (one: LaneInput): Lane => lane.parse(one);

/** A blend as it is kept. */
export const keptBlend = documentOf(blend);
export type KeptBlend = z.infer<typeof keptBlend>;

/** A row of the list of blends. */
export const blendRow = z.object({
  blendId: z.uuid(),
  name: z.string(),
  lanes: z.array(z.string()),
  tempoBpm: z.number().nullable(),
  changedAt: z.string(),
});
export type BlendRow = z.infer<typeof blendRow>;

/** What a blend's tempo, key and bars become. */
const takenValue = z.object({
  tempoBpm: blend.shape.tempoBpm,
  key: blend.shape.key,
  meter: blend.shape.meter.unwrap(),
  movement: blend.shape.movement,
});
export type Taken = z.infer<typeof takenValue>;

export type LanePatch = Partial<Omit<Lane, 'laneId' | 'sampleId'>>;
const lanePatch = patchOf<LanePatch>(lane.shape, ['laneId', 'sampleId']);

export type BlendPatch = Partial<Omit<Blend, 'lanes'>>;
const blendPatch = patchOf<BlendPatch>(blend.shape, ['lanes']);

/** Everything that can be done to a blend. Each says only what it changes, so that two who work on one do not undo each other. */
export const blendOrder = z.discriminatedUnion('do', [
  /** `takes`: what the blend becomes with it; null: it stays as it is. `leads`: it is the lead from now on. */
  z.object({ do: z.literal('put'), lane, leads: z.boolean(), takes: takenValue.nullable() }),
  z.object({ do: z.literal('take'), laneId: z.string() }),
  z.object({ do: z.literal('lead'), laneId: z.string().nullable(), takes: takenValue.nullable() }),
  z.object({
    do: z.literal('lanes'),
    patches: z
      .array(z.object({ laneId: z.string(), patch: lanePatch }))
      .min(1)
      .max(MOST_LANES),
  }),
  /** It stands in another place; the others keep their order. */
  z.object({ do: z.literal('move'), laneId: z.string(), to: z.int().min(0).max(MOST_LANES) }),
  z.object({ do: z.literal('set'), patch: blendPatch }),
]);
export type BlendOrder = z.infer<typeof blendOrder>;
