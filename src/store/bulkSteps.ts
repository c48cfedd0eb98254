import { z } from 'zod';
import type { Done } from '@/library/change/change';
import type { BulkAction } from '@/contract/orders';
import { database, type Queryable } from './database';
import { fromRow, known } from './rows';

const VERSION = 1;

/** What was done to one sample of a step. */
const stepItem = z.object({
  position: z.number(),
  sampleId: z.string(),
  /** The revision that was made, or null when none was. */
  made: z.number().nullable(),
  /** Whether it was put into the bin (or taken out); null when neither. */
  binned: z.boolean().nullable(),
});
export type StepItem = z.infer<typeof stepItem>;

/**
 * Begins a step, before anything of it is done: whatever comes of it can be taken back. One that its sender named (`sentAs`) is begun
 * once.
 */
export async function beginStep(
  on: Queryable,
  words: string,
  action: BulkAction,
  curatorId: string,
  sentAs: string | null = null,
): Promise<number> {
  const { rows } = await on.query(
    `insert into bulk_steps (words, action, curator_id, version, sent_as) values ($1, $2, $3, $4, $5)
     on conflict (sent_as) do update set words = bulk_steps.words returning step_id as id`,
    [words, action, curatorId, VERSION, sentAs],
  );
  return rows[0].id;
}

/** Keeps what was done to samples with the step that it belongs to. */
export async function addToStep(on: Queryable, stepId: number, items: readonly Done[]): Promise<void> {
  if (items.length === 0) return;
  await on.query(
    `insert into bulk_step_items (step_id, sample_id, made, binned)
     select $1, "sampleId", made, binned
       from rows from (jsonb_to_recordset($2) as ("sampleId" uuid, made integer, binned boolean)) with ordinality
      order by ordinality`,
    [stepId, JSON.stringify(items)],
  );
}

/** The newest step that did something and was not taken back; steps of the last day count. */
export async function newestStep(): Promise<{ stepId: number; words: string; madeBy: string | null } | null> {
  const { rows } = await database().query(
    `select step_id as "stepId", words, c.name as "madeBy" from bulk_steps b left join curators c using (curator_id)
      where undone_at is null and b.made_at > now() - interval '1 day'
        and exists (select from bulk_step_items i where i.step_id = b.step_id and not undone and (made is not null or binned is not null))
      order by step_id desc limit 1`,
  );
  return rows[0] ?? null;
}

export interface TakenStep {
  words: string;
  curatorId: string | null;
}

/** A step that was not taken back to its end yet; null for any other. */
export async function readStep(stepId: number): Promise<TakenStep | null> {
  const { rows } = await database().query(
    `select words, curator_id as "curatorId", version from bulk_steps where step_id = $1 and undone_at is null`,
    [stepId],
  );
  if (rows.length === 0) return null;
  known(rows[0].version, VERSION, 'bulk step');
  return { words: rows[0].words, curatorId: rows[0].curatorId };
}

/** Takes the next items of a step that are to be taken back, at most so many; nobody else takes them meanwhile. They count as taken back. */
export async function takeStepItems(on: Queryable, stepId: number, most: number): Promise<StepItem[]> {
  const { rows } = await on.query(
    `update bulk_step_items i set undone = true where step_id = $1 and position in (
        select position from bulk_step_items where step_id = $1 and not undone order by position limit $2 for update)
     returning position, sample_id as "sampleId", made, binned`,
    [stepId, most],
  );
  return fromRow(z.array(stepItem), rows, 'bulk step').sort((a, b) => a.position - b.position);
}

/** Marks a step as taken back when nothing of it is left; returns how much is. */
export async function endStep(stepId: number): Promise<number> {
  const { rows } = await database().query(
    'select count(*) as left from bulk_step_items where step_id = $1 and not undone',
    [stepId],
  );
  if (rows[0].left === 0)
    await database().query(
      'update bulk_steps set undone_at = now() where step_id = $1 and undone_at is null',
      [stepId],
    );
  return rows[0].left;
}
