import { z } from 'zod';
import { AUDIO_EXTENSIONS } from '@/core/formats/endings';
import { sampleEntry, type SampleEntry } from '@/contract/entry';
import { differences, planned, type Differences, type Planned } from '@/core/recipes/differences';
import { recipe, type Recipe } from '@/core/recipes/recipe';

/** The version of the shape below. */
const OWN_VERSION = 1;

/**
 * All that Grento knows of a sample and that no standard has a place for: what was measured and read, what is settled, proofs, how it
 * was made, and its history.
 */
export const ownFile = z
  .object({
    version: z.literal(OWN_VERSION),
    name: z.string().describe('what it is called'),
    /** Of the original's bytes: what it is known again by. */
    sha256: z.string().length(64).describe('SHA-256 of the bytes that arrived'),
    ...sampleEntry.pick({
      ...{ measurement: true, warnings: true, readings: true, settled: true, proofs: true, history: true },
    }).shape,
    recipe: recipe.nullable().describe('how it was made from another sample; null for one that arrived'),
    made: z
      .object({ planned, differences })
      .nullable()
      .default(null)
      .describe('what the recipe was to come to, and how far the file was from that'),
    stemSet: z
      .object({
        name: z.string(),
        stems: z.array(z.string().length(64)),
        gridFrom: z.string().length(64).nullable(),
        keyFrom: z.string().length(64).nullable(),
      })
      .nullable()
      .default(null)
      .describe(
        'the stem set that it belongs to: its stems, and those that give tempo and key, by the SHA-256 of their originals',
      ),
  })
  .describe('what Grento knows of a sample');
export type OwnFile = z.infer<typeof ownFile>;

/** Where it stands for a sample's file; both from `data/`. */
export const ownPathOf = (file: string): string =>
  `${file.replace(/^samples\//, 'annotations/').replace(AUDIO_EXTENSIONS, '')}.grento.json`;

/** What is known of a sample beside its entry. */
export interface OwnRest {
  made: { recipe: Recipe; planned: Planned; differences: Differences } | null;
  stemSet: OwnFile['stemSet'];
}

export const ownOf = (entry: SampleEntry, { made, stemSet }: OwnRest): OwnFile => ({
  ...{ version: OWN_VERSION, name: entry.summary.name, sha256: entry.summary.sha256, stemSet },
  recipe: made?.recipe ?? null,
  made: made && { planned: made.planned, differences: made.differences },
  ...{ measurement: entry.measurement, warnings: entry.warnings, readings: entry.readings },
  ...{ settled: entry.settled, proofs: entry.proofs, history: entry.history },
});

/** The JSON Schema of that shape (draft 2020-12). */
export const ownSchema = (): object => z.toJSONSchema(ownFile, { io: 'output', unrepresentable: 'any' });
