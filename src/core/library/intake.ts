import { z } from 'zod';
import { sampleKind } from '../measurement/schema';
import { SOURCES } from '../readings/reading';
import { meterValue } from '../rhythm/grid';
import { tempoRange } from './settings';
import { settledState } from './settled';

/** What can be done to many samples at once. */
export const bulkAction = z.discriminatedUnion('do', [
  /** Takes what is settled as right; only those whose tempo is surer than `above`, when it is given. */
  z.object({ do: z.literal('accept'), above: z.number().min(0).max(1).nullable() }),
  /** Multiplies the tempo. */
  z.object({ do: z.literal('scale'), ratio: z.number().min(0.125).max(8) }),
  /** Settles the tempo and key that a source says. */
  z.object({ do: z.literal('choose'), source: z.enum(SOURCES) }),
  z.object({
    do: z.literal('measure'),
    range: tempoRange.nullable(),
    meter: meterValue.nullable(),
  }),
  z.object({ do: z.literal('tags'), add: settledState.shape.tags, remove: settledState.shape.tags }),
  z.object({ do: z.literal('rename'), template: z.string().trim().min(1).max(200) }),
  z.object({ do: z.literal('kind'), kind: sampleKind.nullable() }),
  z.object({ do: z.literal('bin') }),
  z.object({ do: z.literal('restore') }),
]);
export type BulkAction = z.infer<typeof bulkAction>;

/** How many samples one request may name; longer lists go in several that share a step. */
export const BULK_AT_ONCE = 200;

export const bulkRequest = z.object({
  action: bulkAction,
  sampleIds: z.array(z.uuid()).min(1).max(BULK_AT_ONCE),
  /** The step that these belong to, when they are not the first of it. */
  stepId: z.int().positive().nullable().default(null),
});

export const bulkResult = z.object({
  stepId: z.number(),
  words: z.string(),
  done: z.number(),
  refused: z.array(z.object({ name: z.string(), why: z.string() })),
});
export type BulkResult = z.infer<typeof bulkResult>;

/** The newest step that can be taken back, or be done again. */
export const bulkSteps = z.object({
  undo: z.object({ stepId: z.number(), words: z.string() }).nullable(),
});
export type BulkSteps = z.infer<typeof bulkSteps>;

/** How far measuring has come, and how fast it goes. */
export const queueState = z.object({
  waiting: z.number(),
  running: z.number(),
  paused: z.boolean(),
  doneLately: z.number(),
  bytesLately: z.number(),
  secondsLately: z.number(),
  bytesLeft: z.number(),
});
export type QueueState = z.infer<typeof queueState>;

/** A file that is about to be sent, as far as its sender can tell. */
export const announcedFile = z.object({
  name: z.string().min(1).max(300),
  folder: z.string().max(1000).default(''),
  byteLength: z.number().int().min(0),
  modifiedMs: z.number().int().min(0),
});
export type AnnouncedFile = z.infer<typeof announcedFile>;

/** Where a file is that is here already: in the bin only when all samples that came from it are. */
export const whereHere = z.enum(['library', 'bin']);
export type WhereHere = z.infer<typeof whereHere>;

/** What is here of announced files: all of it, or the first so many bytes; or why a file will not be taken in. */
export const knownFiles = z.array(
  z.object({ here: whereHere.nullable(), received: z.number(), refusal: z.string().nullable() }),
);
export type KnownFiles = z.infer<typeof knownFiles>;

export const ERRAND_STATES = ['waiting', 'running', 'paused', 'done', 'failed', 'cancelled'] as const;

/** A long way in that the server goes by itself. */
export const errand = z.object({
  errandId: z.number(),
  kind: z.enum(['zip', 'place', 'delivery']),
  words: z.string(),
  state: z.enum(ERRAND_STATES),
  fault: z.string().nullable(),
  files: z.number(),
  done: z.number(),
  failed: z.number(),
  bytes: z.number(),
  received: z.number(),
  /** Files that did not come in, with the reason; some of them. */
  faults: z.array(z.object({ name: z.string(), fault: z.string() })),
  /** The file that is coming in. */
  current: z.string().nullable(),
});
export type Errand = z.infer<typeof errand>;

export const place = z.object({
  placeId: z.number(),
  path: z.string(),
  watched: z.boolean(),
  fault: z.string().nullable(),
});
export type Place = z.infer<typeof place>;

export const placeRequest = z.object({ path: z.string().trim().min(1).max(2000) });

/** A folder of a kept place: what is in it, and what of it was taken in. */
export const placeFolder = z.object({
  placeId: z.number(),
  /** Below the place, "" for itself. */
  path: z.string(),
  folders: z.array(z.object({ name: z.string(), files: z.number() })),
  files: z.array(
    z.object({
      name: z.string(),
      byteLength: z.number(),
      modifiedMs: z.number(),
      /** The name's tempo and key in words, as far as it says any. */
      tempo: z.string().nullable(),
      key: z.string().nullable(),
      takenIn: z.boolean(),
    }),
  ),
  /** Files that Grento does not read; they are left out of the list. */
  others: z.number(),
});
export type PlaceFolder = z.infer<typeof placeFolder>;

/** What a look into a file tells: its length and its waveform, signed bytes [min, max, …] in base 64. */
export const filePeek = z.object({
  durationSeconds: z.number().nullable(),
  thumbnail: z.string().nullable(),
  fault: z.string().nullable(),
});
export type FilePeek = z.infer<typeof filePeek>;

/** The catalogue of a delivery service. */
export const deliveryCatalogue = z.object({
  sender: z.string(),
  packs: z.array(
    z.object({
      packId: z.string(),
      title: z.string(),
      about: z.string(),
      files: z.array(z.object({ path: z.string(), byteLength: z.number() })),
    }),
  ),
});
export type DeliveryCatalogue = z.infer<typeof deliveryCatalogue>;

/** How the simulated delivery service behaves. */
export const deliveryMood = z.object({
  /** Bytes a second; null: as fast as it can. */
  bytesPerSecond: z.number().min(1000).nullable(),
  /** Share of the requests that break off midway, 0 … 1. */
  breaksOff: z.number().min(0).max(1),
});
export type DeliveryMood = z.infer<typeof deliveryMood>;

/** A stem set with its members in their order of use. */
export const stemSet = z.object({
  setId: z.uuid(),
  name: z.string(),
  state: z.enum(['proposed', 'joined', 'refused']),
  reasons: z.array(z.string()),
  members: z.array(
    z.object({
      sampleId: z.uuid(),
      name: z.string(),
      folder: z.string(),
      thumbnail: z.string().nullable(),
      durationSeconds: z.number().nullable(),
      tempoBpm: z.number().nullable(),
      key: z.string().nullable(),
      givesGrid: z.boolean(),
      givesKey: z.boolean(),
      gridRank: z.number(),
      gridReasons: z.array(z.string()),
      keyRank: z.number(),
      keyReasons: z.array(z.string()),
      /** Where it begins to sound, seconds. */
      soundsFrom: z.number().nullable(),
    }),
  ),
});
export type StemSet = z.infer<typeof stemSet>;

export const stemSetChange = z.object({
  state: z.enum(['joined', 'refused']).optional(),
  gridFrom: z.uuid().optional(),
  keyFrom: z.uuid().optional(),
  name: z.string().trim().min(1).max(300).optional(),
  remove: z.uuid().optional(),
});

/** Two samples that hold the same recording. */
export const likeness = z.object({
  relation: z.enum(['same bytes', 'same audio', 'same recording']),
  offsetSeconds: z.number(),
  difference: z.number(),
  a: z.uuid(),
  b: z.uuid(),
});
export type Likeness = z.infer<typeof likeness>;

export const likenessChange = z.object({
  a: z.uuid(),
  b: z.uuid(),
  /** `merge`: b's tags, note and readings go to a, and b to the bin. */
  do: z.enum(['merge', 'keep apart', 'swap and merge']),
});
