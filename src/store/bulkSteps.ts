import { z } from 'zod';
import type { Done } from '@/library/change/change';
import type { BulkAction, BulkSteps, StepScreen } from '@/contract/orders';
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
 * Begins a step, before anything of it is done: whatever comes of it can be undone. One that its sender named (`sentAs`) is begun
 * once.
 */
export async function beginStep(
  on: Queryable,
  {
    words,
    action,
    curatorId,
    screen,
    sentAs = null,
  }: {
    words: string;
    action: BulkAction;
    curatorId: string;
    screen: StepScreen | null;
    sentAs?: string | null;
  },
): Promise<number> {
  const { rows } = await on.query(
    `insert into bulk_steps (words, action, curator_id, version, sent_as, screen) values ($1, $2, $3, $4, $5, $6)
     on conflict (sent_as) do update set words = bulk_steps.words returning step_id as id`,
    [words, action, curatorId, VERSION, sentAs, screen],
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

const DID_SOMETHING = `exists (select from bulk_step_items i where i.step_id = b.step_id and (made is not null or binned is not null))`;

/**
 * The newest step of a screen (null: of any) that did something and was not undone, and the one that was undone last, with nothing
 * made after that; steps of the last day count.
 */
export async function newestSteps(screen: StepScreen | null): Promise<BulkSteps> {
  const { rows } = await database().query(
    `with mine as (
       select b.*, c.name as maker from bulk_steps b left join curators c using (curator_id)
        where b.made_at > now() - interval '1 day' and ($1::text is null or b.screen = $1) and ${DID_SOMETHING}),
     undo as (
       select step_id, words, maker from mine b
        where undone_at is null and exists (select from bulk_step_items i where i.step_id = b.step_id and not undone)
        order by step_id desc limit 1),
     redo as (
       select step_id, words, maker from mine b
        where undone_at is not null and not exists (select from mine later where later.made_at > b.undone_at)
        order by undone_at desc, step_id limit 1)
     select 'undo' as way, step_id as "stepId", words, maker as "madeBy" from undo
     union all select 'redo', step_id, words, maker from redo`,
    [screen],
  );
  const of = (wanted: string) => {
    const found = rows.find(({ way }) => way === wanted);
    return found ? { stepId: found.stepId, words: found.words, madeBy: found.madeBy } : null;
  };
  return { undo: of('undo'), redo: of('redo') };
}

export interface TakenStep {
  words: string;
  curatorId: string | null;
}

/** Taken back, or redone after that. */
export type StepWay = 'undo' | 'redo';

/** A step that can still be undone (or, undone to its end, redone); null for any other. */
export async function readStep(stepId: number, way: StepWay): Promise<TakenStep | null> {
  const { rows } = await database().query(
    `select words, curator_id as "curatorId", version from bulk_steps b where step_id = $1
        and case when $2 = 'undo' then undone_at is null
            else exists (select from bulk_step_items i where i.step_id = b.step_id and undone) end`,
    [stepId, way],
  );
  if (rows.length === 0) return null;
  known(rows[0].version, VERSION, 'bulk step');
  return { words: rows[0].words, curatorId: rows[0].curatorId };
}

/** Takes the next items of a step that are to be undone (or redone), at most so many; nobody else takes them meanwhile. They count as done. */
export async function takeStepItems(
  on: Queryable,
  stepId: number,
  way: StepWay,
  most: number,
): Promise<StepItem[]> {
  const { rows } = await on.query(
    `update bulk_step_items i set undone = $3 where step_id = $1 and position in (
        select position from bulk_step_items where step_id = $1 and undone <> $3 order by position limit $2 for update)
     returning position, sample_id as "sampleId", made, binned`,
    [stepId, most, way === 'undo'],
  );
  return fromRow(z.array(stepItem), rows, 'bulk step').sort((a, b) => a.position - b.position);
}

/** Marks a step as undone (or as redone) when nothing of it is left; returns how much is. */
export async function endStep(stepId: number, way: StepWay): Promise<number> {
  const { rows } = await database().query(
    'select count(*) as left from bulk_step_items where step_id = $1 and undone <> $2',
    [stepId, way === 'undo'],
  );
  if (rows[0].left === 0)
    await database().query(
      'update bulk_steps set undone_at = case when $2 then now() end where step_id = $1',
      [stepId, way === 'undo'],
    );
  return rows[0].left;
}
