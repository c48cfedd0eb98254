import type pg from 'pg';
import { z } from 'zod';
import { differences, planned, type Differences, type Planned } from '@/core/recipes/differences';
import { outcome } from '@/contract/mix';
import { recipe, type Recipe } from '@/core/recipes/recipe';
import { database, type Queryable } from './database';
import { fromRow, known } from './rows';

const VERSION = 1;

/** Whether the sample whose number is an SQL expression was made here, rendered or mixed. */
export const isMade = (sampleId: string): string =>
  `exists (select from (select sample_id from recipes union all select sample_id from mixes) made where made.sample_id = ${sampleId})`;

export interface KeptRecipe {
  recipe: Recipe;
  planned: Planned;
  differences: Differences;
}

/** Keeps how a sample was made, with what it was to become and what became of it. */
export async function writeRecipe(client: pg.PoolClient, sampleId: string, kept: KeptRecipe): Promise<void> {
  await client.query(
    'insert into recipes (sample_id, recipe, planned, differences, version) values ($1, $2, $3, $4, $5)',
    [
      sampleId,
      JSON.stringify(kept.recipe),
      JSON.stringify(kept.planned),
      JSON.stringify(kept.differences),
      VERSION,
    ],
  );
}

/** A derived sample that was made by the very same recipe and is not in the bin; null where there is none. */
export async function madeAlready(on: Queryable, wanted: Recipe): Promise<string | null> {
  const { rows } = await on.query(
    `select p.sample_id as id from recipes p join settled s using (sample_id)
      where s.parent = $1 and s.binned_at is null and p.recipe = $2 order by p.made_at limit 1`,
    [wanted.parent.sampleId, JSON.stringify(wanted)],
  );
  return rows[0]?.id ?? null;
}

/** How a sample was made; null for one that arrived. */
export async function readRecipe(sampleId: string): Promise<KeptRecipe | null> {
  const { rows } = await database().query(
    'select recipe, planned, differences, version from recipes where sample_id = $1',
    [sampleId],
  );
  if (rows.length === 0) return null;
  known(rows[0].version, VERSION, 'recipe');
  return fromRow(z.object({ recipe, planned, differences }), rows[0], 'recipe');
}

const relative = z.object({
  sampleId: z.uuid(),
  name: z.string(),
  binned: z.boolean(),
  recipe: recipe.nullable(),
  /** Of a blend: what came out of it, and what it was called. */
  outcome: outcome.nullable(),
  blend: z.string().nullable(),
});

/** Samples that were made from one, oldest first. */
export async function childrenOf(parent: string): Promise<z.infer<typeof relative>[]> {
  const { rows } = await database().query(
    `select s.sample_id as "sampleId", s.name, s.binned_at is not null as binned, p.recipe, m.outcome, m.state ->> 'name' as blend
       from settled s left join recipes p using (sample_id) left join mixes m using (sample_id) where s.parent = $1 order by s.arrived_at, s.name limit 200`,
    [parent],
  );
  return fromRow(z.array(relative), rows, 'derived sample');
}

/** How many samples that are not in the bin were made from these. */
export async function countChildren(parents: readonly string[]): Promise<number> {
  const { rows } = await database().query(
    'select count(*) as count from settled where parent = any($1::uuid[]) and binned_at is null',
    [parents],
  );
  return rows[0].count;
}
