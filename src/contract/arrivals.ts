import { z } from 'zod';

/** A file that is about to be sent, as far as its sender can tell. */
export const announcedFile = z.object({
  name: z.string().min(1).max(300),
  folder: z.string().max(1000).default(''),
  byteLength: z.number().int().min(0),
  modifiedMs: z.number().int().min(0),
});
export type AnnouncedFile = z.infer<typeof announcedFile>;

/** Where a file is that is here already: in the bin only when all samples that came from it are. */
const whereHere = z.enum(['library', 'bin']);
export type WhereHere = z.infer<typeof whereHere>;

/** What is here of an announced file: all of it, or the first so many bytes; or why it will not be imported. */
const knownFile = z.object({
  here: whereHere.nullable(),
  /** The sample that came from it, where it is here. */
  sampleId: z.uuid().nullable(),
  received: z.number(),
  refusal: z.string().nullable(),
});
export const knownFiles = z.array(knownFile);
export type KnownFiles = z.infer<typeof knownFiles>;

/** What happened to a file that was sent in. */
export const takenIn = z.object({
  /** null: an archive, whose files become samples. */
  sampleId: z.uuid().nullable(),
  /** `in the bin`: nothing was imported; the sample that came from these bytes lies there, with its work. */
  outcome: z.enum(['new', 'duplicate', 'already here', 'in the bin', 'unpacking']),
  /** Name of the sample that has the same bytes. */
  sameAs: z.string().nullable(),
  /** A sample of the same bytes that lies in the bin with its work, where none lies in the library. */
  inBin: z.object({ sampleId: z.uuid(), name: z.string() }).nullable(),
});
export type TakenIn = z.infer<typeof takenIn>;
