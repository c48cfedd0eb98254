import { z } from 'zod';
import { measurement, sampleKind } from '../measurement/schema';
import { PROPERTIES, readingValue, SOURCES } from '../readings/reading';
import { gridValue, meterValue } from '../rhythm/grid';
import { tempoRange } from './settings';
import { settledState } from './settled';

/** How far a sample has come. */
export const STANDINGS = ['arrived', 'measured', 'proved', 'saved'] as const;
export type Standing = (typeof STANDINGS)[number];

/** What runs or waits for a sample in the measuring process. */
export const jobProgress = z.object({
  state: z.enum(['waiting', 'running', 'failed', 'cancelled']),
  stage: z.string(),
  progress: z.number(),
});

/** One row of the Intake or the Shelf. */
export const sampleSummary = z.object({
  sampleId: z.uuid(),
  name: z.string(),
  /** The name it came under, when it goes by another. */
  arrivedAs: z.string().nullable(),
  folder: z.string(),
  kind: sampleKind.nullable(),
  standing: z.enum(STANDINGS),
  needsLook: z.array(z.string()),
  /** How much it needs a curator, 0 … 1. */
  need: z.number(),
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
  rating: z.number().nullable(),
  /** Whether somebody vouches for the present grid, or only for an earlier one. */
  proof: z.enum(['current', 'lost']).nullable(),
  tags: z.array(z.object({ facet: z.string(), value: z.string() })),
  arrivedAt: z.string(),
  /** The stem set that it belongs to, or is proposed for. */
  stemSet: z.object({ setId: z.uuid(), name: z.string(), state: z.enum(['proposed', 'joined']) }).nullable(),
  job: jobProgress.nullable(),
});
export type SampleSummary = z.infer<typeof sampleSummary>;

/** A reading as it is kept, with its number and time. */
export const storedReading = readingValue.and(
  z.object({
    readingId: z.number(),
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
export const proofPlace = z.object({
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
  proofId: z.number(),
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

export const revisionEntry = z.object({
  sequence: z.number(),
  words: z.string(),
  madeBy: z.enum(['measurement', 'curator']),
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
  undoWords: z.string().nullable(),
  redoWords: z.string().nullable(),
  history: z.array(revisionEntry),
  proofs: z.array(storedProof),
});
export type SampleEntry = z.infer<typeof sampleEntry>;

const measurableReading = readingValue.and(
  z.object({
    // `detector`: a stretch that was measured on the Bench.
    source: z.enum(['detector', 'taps', 'length', 'pins', 'typed']),
    sureness: z.number().min(0).max(1),
    detail: z.string().max(300),
  }),
);

/** A change that a curator makes on the Bench: the parts of the settled state that become something else. */
export const settleChange = z.object({
  /** The revision that the curator saw; a change made to another one is refused. */
  base: z.int().positive(),
  words: z.string().min(1).max(300),
  patch: settledState.partial(),
  /** A reading that the change rests on, recorded with it and chosen for its property. */
  reading: measurableReading.nullable().default(null),
});
export type SettleChange = z.input<typeof settleChange>;

export const proofRequest = z.object({
  base: z.int().positive(),
  verdict: z.enum(VERDICTS),
  signedBy: z.string().trim().min(1).max(80),
  /** Labels of the places that were listened to, with what was heard there. */
  heard: z.array(z.object({ label: z.string(), verdict: z.enum(VERDICTS).nullable() })).max(50),
});
export type ProofRequest = z.infer<typeof proofRequest>;

/** Which revision a sample goes back to. */
export const returnRequest = z.object({ base: z.int().positive(), sequence: z.int().positive() });

/** Proofs of several samples by their figures alone. */
export const figuresProofRequest = z.object({
  sampleIds: z.array(z.uuid()).min(1).max(1000),
  signedBy: z.string().trim().min(1).max(80),
});
export const figuresProofResult = z.object({
  proved: z.number(),
  refused: z.array(z.object({ name: z.string(), why: z.string() })),
});
export type FiguresProofResult = z.infer<typeof figuresProofResult>;

export const measureRequest = z.object({
  /** null: the library's custom. */
  range: tempoRange.nullable().default(null),
  meter: meterValue.nullable().default(null),
});

/** What happened to a file that was sent in. */
export const takenIn = z.object({
  /** null: an archive, whose files become samples. */
  sampleId: z.uuid().nullable(),
  outcome: z.enum(['new', 'duplicate', 'already here', 'in the bin', 'unpacking']),
  /** Name of the sample that has the same bytes. */
  sameAs: z.string().nullable(),
});
export type TakenIn = z.infer<typeof takenIn>;

export const propertyName = z.enum(PROPERTIES);
