import type { SampleEntry, SampleSummary } from '@/contract/entry';
import { MOST_NAMES_SHOWN, namesRequest, type NamesAnswer } from '@/contract/names';
import type { PackTarget } from '@/contract/pack';
import type { Tag } from '@/core/tags/facets';
import { recipeAtTarget } from '@/library/recipes/aims';
import { nameFromTemplate } from '@/library/samples/nameTemplate';
import { database } from '@/store/database';
import { readEntryOf } from '@/store/entries';
import { readSummaries } from '@/store/summaries';

type Named = Pick<NamesAnswer['rows'][number], 'after' | 'fault'>;

/** What samples would be called by a template, or what is rendered of them at a target: the first of them, in their order. */
export async function previewNames(input: unknown): Promise<NamesAnswer> {
  const { sampleIds, template, target } = namesRequest.parse(input);
  const rows = await readSummaries(database(), sampleIds.slice(0, MOST_NAMES_SHOWN));
  const named = await Promise.all(
    rows.map(async (row) => {
      const entry = target && (await readEntryOf(database(), row.sampleId));
      const name = target ? nameAt(entry, template, target) : nameOf(row, template);
      return { sampleId: row.sampleId, before: row.name, ...name };
    }),
  );
  const counts = new Map<string, number>();
  for (const { after } of named) if (after) counts.set(after, (counts.get(after) ?? 0) + 1);
  return {
    rows: named.map((one) => ({ ...one, isDouble: one.after !== null && counts.get(one.after)! > 1 })),
  };
}

function nameOf(row: SampleSummary, template: string): Named {
  const { name, fault } = nameFromTemplate(template, { ...row, tags: row.tags as Tag[] });
  return fault ? { after: null, fault } : { after: name === row.name ? null : name, fault: null };
}

function nameAt(entry: SampleEntry | null, template: string, target: PackTarget): Named {
  try {
    const recipe = entry && recipeAtTarget(entry, target, { ...target, template });
    return { after: recipe?.name ?? null, fault: null };
  } catch (error) {
    return { after: null, fault: (error as Error).message };
  }
}
