import { z } from 'zod';
import type { BulkAction } from '@/core/library/intake';
import { database } from './database';

/** What was done to one sample of a step. */
const bulkItem = z.object({
  sampleId: z.string(),
  /** The revision that was made, or null when none was. */
  made: z.number().nullable(),
  /** Whether it was put into the bin (or taken out); null when neither. */
  binned: z.boolean().nullable(),
});
export type BulkItem = z.infer<typeof bulkItem>;

export async function beginStep(words: string, action: BulkAction): Promise<number> {
  const { rows } = await database().query(
    "insert into bulk_steps (words, action, items) values ($1, $2, '[]') returning step_id as id",
    [words, action],
  );
  return rows[0].id;
}

export async function addToStep(stepId: number, items: readonly BulkItem[]): Promise<void> {
  await database().query('update bulk_steps set items = items || $2::jsonb where step_id = $1', [
    stepId,
    JSON.stringify(items),
  ]);
}

/** The newest step that did something and was not taken back; steps of the last day count. */
export async function newestStep(): Promise<{ stepId: number; words: string } | null> {
  const { rows } = await database().query(
    `select step_id as "stepId", words from bulk_steps
      where undone_at is null and made_at > now() - interval '1 day'
        and items @? '$[*] ? (@.made != null || @.binned != null)'
      order by step_id desc limit 1`,
  );
  return rows[0] ?? null;
}

/** Marks a step as taken back and returns it; null when it was before. */
export async function takeStep(stepId: number): Promise<{ words: string; items: BulkItem[] } | null> {
  const { rows } = await database().query(
    'update bulk_steps set undone_at = now() where step_id = $1 and undone_at is null returning words, items',
    [stepId],
  );
  return rows.length ? { words: rows[0].words, items: z.array(bulkItem).parse(rows[0].items) } : null;
}
