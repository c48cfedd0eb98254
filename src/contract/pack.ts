import { z } from 'zod';
import { keyValue } from '@/core/harmony/keyValue';
import { BLEND_TEMPI } from './blend';
import { AUDIO_FORMATS } from '@/core/recipes/recipe';
import { patchOf, documentName, documentOf } from './documents';

/** More samples in one pack are refused. */
export const MOST_IN_PACK = 2000;

/** What the files of samples are: the original with what is settled in its tags, the very bytes that arrived, or none. */
export const PACKED_AS = ['tagged', 'original', 'none'] as const;
/** By what the files of a pack are laid into folders. */
export const PACK_FOLDERS = ['together', 'kind', 'part', 'folder'] as const;

export const MIDI_AS = ['notes', 'audio'] as const;

/** A tempo, a key or both that every sample is also written at. */
export const packTarget = z
  .object({
    tempoBpm: z.number().min(BLEND_TEMPI.least).max(BLEND_TEMPI.most).nullable(),
    key: keyValue.nullable(),
    isTape: z.boolean().default(false),
    format: z.enum(AUDIO_FORMATS).default('wav 24'),
    /** null: as each is. */
    sampleRate: z.int().min(8000).max(192_000).nullable().default(null),
    /** What a MIDI performance becomes: notes, or their sound in that format. */
    midiAs: z.enum(MIDI_AS).default('notes'),
  })
  .refine(({ tempoBpm, key }) => tempoBpm !== null || key !== null, 'a tempo, a key, or both');
export type PackTarget = z.infer<typeof packTarget>;

/** Samples that are gathered to be given away, and what is written of them. */
export const pack = z.object({
  name: documentName,
  /** What it is, for whoever gets it. */
  about: z.string().max(2000).default(''),
  /** Of the pack as a whole; each sample's own stands beside it. */
  licence: z.string().max(300).default(''),
  /** In this order, each once. */
  sampleIds: z.array(z.uuid()).max(MOST_IN_PACK).default([]),
  /** What files are called (library/samples/nameTemplate). */
  template: z.string().trim().min(1).max(200).default('{name}'),
  folders: z.enum(PACK_FOLDERS).default('together'),
  files: z.enum(PACKED_AS).default('tagged'),
  atTarget: packTarget.nullable().default(null),
  /** The click of each sample, as a file of its length. */
  clicks: z.boolean().default(false),
  /** Tempo, bars and click of each as a Standard MIDI File. */
  tempoMaps: z.boolean().default(false),
  /** Beats, bars, tempo and key of each as annotations, and all that is known of it. */
  annotations: z.boolean().default(true),
});
export type Pack = z.infer<typeof pack>;

/** Where the files of one sample stand in a pack; null for what is not written of it. */
export const packPaths = z.object({
  file: z.string().nullable(),
  atTarget: z.string().nullable(),
  click: z.string().nullable(),
  tempoMap: z.string().nullable(),
  annotations: z.string().nullable(),
  own: z.string().nullable(),
});
export type PackPaths = z.infer<typeof packPaths>;

export const emptyPack = (name: string): Pack => pack.parse({ name });

export const keptPack = documentOf(pack);
export type KeptPack = z.infer<typeof keptPack>;

/** A row of the list of packs. */
export const packRow = z.object({
  packId: z.uuid(),
  name: z.string(),
  samples: z.number(),
  /** When it was written last; null where there is nothing to fetch. */
  writtenAt: z.string().nullable(),
  changedAt: z.string(),
});
export type PackRow = z.infer<typeof packRow>;

export type PackPatch = Partial<Omit<Pack, 'sampleIds'>>;
const packPatch = patchOf<PackPatch>(pack.shape, ['sampleIds']);

const some = z.array(z.uuid()).min(1).max(MOST_IN_PACK);

/** Everything that can be done to a pack. Each says only what it changes, so that two who work on one do not undo each other. */
export const packOrder = z.discriminatedUnion('do', [
  /** What is in it already stays where it is. */
  z.object({ do: z.literal('put'), sampleIds: some }),
  z.object({ do: z.literal('take'), sampleIds: some }),
  /** It stands in another place, from 0; the others keep their order. */
  z.object({ do: z.literal('move'), sampleId: z.uuid(), to: z.int().min(0).max(MOST_IN_PACK) }),
  /** All of them stand in this order; those that it does not name stay behind them. */
  z.object({ do: z.literal('sort'), sampleIds: some }),
  z.object({ do: z.literal('set'), patch: packPatch }),
]);
export type PackOrder = z.infer<typeof packOrder>;
