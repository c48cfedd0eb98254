import { doubt } from './doubt';
import { z } from 'zod';
import { measurement, sampleKind } from '@/core/measurement/schema';
import { readingValue, SOURCES } from '@/core/readings/reading';
import { gridValue } from '@/core/rhythm/grid';
import { curator } from './curators';
import { settledState } from './settled';

/** How far a sample has come. */
export const STATUSES = ['arrived', 'measured', 'proved', 'saved'] as const;
export type Status = (typeof STATUSES)[number];

/** The measuring of a sample that waits or runs. */
const measuringProgress = z.object({
  state: z.enum(['waiting', 'running']),
  stage: z.string(),
  progress: z.number(),
});

/** Whether the present grid is vouched for, or only an earlier one. */
const PROOF_STATES = ['current', 'lost'] as const;
const proofState = z.enum(PROOF_STATES);
export type ProofState = z.infer<typeof proofState>;

/** How a sample is brought to a target, where somebody chose; `target` as `targetKey` writes it. */
const targetChoice = z.object({
  target: z.string(),
  level: z.number().nullable(),
  semitones: z.number().nullable(),
});

/** One row of the Intake or the Shelf. */
export const sampleSummary = z.object({
  sampleId: z.uuid(),
  /** The revision that is shown: what a change of the row is based on. */
  sequence: z.number().nullable(),
  name: z.string(),
  /** The name it came under, when it goes by another. */
  arrivedAs: z.string().nullable(),
  folder: z.string(),
  kind: sampleKind.nullable(),
  standing: z.enum(STATUSES),
  /** Why a value of it may be wrong. */
  doubts: z.array(doubt),
  /** What waits to be done with it. */
  todos: z.array(doubt),
  format: z.string().nullable(),
  durationSeconds: z.number().nullable(),
  sampleRate: z.number().nullable(),
  channels: z.number().nullable(),
  byteLength: z.number(),
  sha256: z.string(),
  fault: z.string().nullable(),
  /** Signed bytes [min, max, …] in base 64. */
  thumbnail: z.string().nullable(),
  tempoBpm: z.number().nullable(),
  tempoSureness: z.number().nullable(),
  steady: z.boolean().nullable(),
  oneSeconds: z.number().nullable(),
  beatsPerBar: z.number().nullable(),
  beatUnit: z.number().nullable(),
  bars: z.number().nullable(),
  keyTonic: z.number().nullable(),
  keyMode: z.enum(['major', 'minor']).nullable(),
  keySureness: z.number().nullable(),
  tuningCents: z.number().nullable(),
  /** It has no lasting pitch: no target transposes it. */
  toneless: z.boolean(),
  rating: z.number().nullable(),
  proof: proofState.nullable(),
  tags: z.array(z.object({ facet: z.string(), value: z.string() })),
  arrivedAt: z.string(),
  /** The stem set that it belongs to, or is proposed for. */
  stemSet: z.object({ setId: z.uuid(), name: z.string(), state: z.enum(['proposed', 'joined']) }).nullable(),
  measuring: measuringProgress.nullable(),
  choices: z.array(targetChoice),
  /** The sample that it was made from. */
  parent: z.object({ sampleId: z.uuid(), name: z.string() }).nullable(),
});
export type SampleSummary = z.infer<typeof sampleSummary>;

/** A reading as it is kept, with its number and time. */
export const storedReading = readingValue.and(
  z.object({
    readingId: z.uuid(),
    source: z.enum(SOURCES),
    sureness: z.number(),
    detail: z.string(),
    rank: z.number(),
    readAt: z.string(),
    superseded: z.boolean(),
  }),
);
export type StoredReading = z.infer<typeof storedReading>;

export const VERDICTS = ['early', 'on', 'late'] as const;

/** A place of a proof as it was measured when it was signed. */
const proofPlace = z.object({
  label: z.string(),
  from: z.number(),
  to: z.number(),
  hits: z.number(),
  medianMs: z.number().nullable(),
  spreadMs: z.number().nullable(),
  /** Whether somebody listened there. */
  heard: z.boolean(),
  /** What they heard: the click there is early, on or late; null where nobody said. */
  verdict: z.enum(VERDICTS).nullable().default(null),
});

export const storedProof = z.object({
  proofId: z.uuid(),
  sequence: z.number(),
  grid: gridValue,
  audioSha256: z.string(),
  places: z.array(proofPlace),
  verdict: z.enum(VERDICTS),
  byEar: z.boolean(),
  signedBy: z.string(),
  signedAt: z.string(),
  /** The grid and the audio are still those that it vouches for. */
  current: z.boolean(),
});
export type StoredProof = z.infer<typeof storedProof>;

/** Who made a revision: measuring, or a curator (null: one of whom nothing was kept). */
export const madeBy = z.union([
  z.literal('measurement'),
  curator.pick({ curatorId: true, name: true, initials: true }),
]);
export type MadeBy = z.infer<typeof madeBy>;

export const revisionEntry = z.object({
  sequence: z.number(),
  words: z.string(),
  madeBy: madeBy.nullable(),
  madeAt: z.string(),
  abandoned: z.boolean(),
});

/** Everything that the Bench needs of one sample. */
export const sampleEntry = z.object({
  summary: sampleSummary,
  warnings: z.array(z.string()),
  measurement: measurement.nullable(),
  readings: z.array(storedReading),
  settled: settledState,
  sequence: z.number().nullable(),
  /** The step that undo undoes, and what is settled then. */
  undo: z.object({ words: z.string(), settled: settledState }).nullable(),
  /** The step that redo does again, and what is settled then. */
  redo: z.object({ words: z.string(), settled: settledState }).nullable(),
  history: z.array(revisionEntry),
  proofs: z.array(storedProof),
});
export type SampleEntry = z.infer<typeof sampleEntry>;
