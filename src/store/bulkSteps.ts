import { z } from 'zod';
import type { Done } from '@/core/change/change';
import type { BulkAction } from '@/core/library/orders';
import { database, type Queryable } from './database';
import { fromRow, known } from './rows';

const VERSION = 1;

/** What was done to one sample of a step. */
const stepItem = z.object({
  sampleId: z.string(),
  /** The revision that was made, or null when none was. */
  made: z.number().nullable(),
  /** Whether it was put into the bin (or taken out); null when neither. */
  binned: z.boolean().nullable(),
});

/** Begins a step, before anything of it is done: whatever comes of it can be taken back. */
export async function beginStep(words: string, action: BulkAction, curatorId: string): Promise<number> {
  const { rows } = await database().query(
    "insert into bulk_steps (words, action, items, curator_id, version) values ($1, $2, '[]', $3, $4) returning step_id as id",
    [words, action, curatorId, VERSION],
  );
  return rows[0].id;
}

/** Keeps what was done to samples with the step that it belongs to. */
export async function addToStep(on: Queryable, stepId: number, items: readonly Done[]): Promise<void> {
  if (items.length === 0) return;
  await on.query('update bulk_steps set items = items || $2::jsonb where step_id = $1', [
    stepId,
    JSON.stringify(items),
  ]);
}

/** The newest step that did something and was not taken back; steps of the last day count. */
export async function newestStep(): Promise<{ stepId: number; words: string; madeBy: string | null } | null> {
  const { rows } = await database().query(
    `select step_id as "stepId", words, c.name as "madeBy" from bulk_steps left join curators c using (curator_id)
      where undone_at is null and bulk_steps.made_at > now() - interval '1 day'
        and items @? '$[*] ? (@.made != null || @.binned != null)'
      order by step_id desc limit 1`,
  );
  return rows[0] ?? null;
}

export interface TakenStep {
  words: string;
  items: Done[];
  curatorId: string | null;
}

/** A step that was not taken back yet; null for any other. */
export async function readStep(stepId: number): Promise<TakenStep | null> {
  const { rows } = await database().query(
    `select words, items, curator_id as "curatorId", version from bulk_steps where step_id = $1 and undone_at is null`,
    [stepId],
  );
  if (rows.length === 0) return null;
  known(rows[0].version, VERSION, 'bulk step');
  return { ...rows[0], items: fromRow(z.array(stepItem), rows[0].items, 'bulk step') };
}

/** Marks a step as taken back; false when it was before. */
export async function takeStep(stepId: number): Promise<boolean> {
  const { rowCount } = await database().query(
    'update bulk_steps set undone_at = now() where step_id = $1 and undone_at is null',
    [stepId],
  );
  return rowCount === 1;
}
