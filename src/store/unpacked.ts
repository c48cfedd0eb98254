import type pg from 'pg';
import { z } from 'zod';
import { ownFile, type OwnFile } from '@/library/packs/own';
import type { KeptRecipe } from './recipes';
import { fromRow } from './rows';

/** Waits until no other sample of that stem set is being settled as its pack says; until the transaction ends none is. */
export async function lockUnpackedSet(client: pg.PoolClient, stems: readonly string[]): Promise<void> {
  await client.query('select pg_advisory_xact_lock(hashtextextended($1, 3))', [[...stems].sort().join()]);
}

/** Keeps what a pack said of a sample: its parent and its stems may come later. */
export async function keepUnpacked(client: pg.PoolClient, sampleId: string, own: OwnFile): Promise<void> {
  const { recipe, stemSet, made } = own;
  await client.query(
    `insert into unpacked (sample_id, known_as, parent_as, own) values ($1, $2, $3, $4)
     on conflict (sample_id) do update set known_as = excluded.known_as, parent_as = excluded.parent_as, own = excluded.own`,
    [sampleId, own.sha256, recipe?.parent.sha256 ?? null, JSON.stringify({ recipe, stemSet, made })],
  );
}

const known = z.object({
  sampleId: z.uuid(),
  knownAs: z.string(),
  sha256: z.string(),
  format: z.string().nullable(),
});
export type Known = z.infer<typeof known>;

/** Samples that are not in the bin and whose bytes were those when they arrived first: here, or where their pack was written. */
export async function samplesKnownAs(client: pg.PoolClient, sha256: readonly string[]): Promise<Known[]> {
  const { rows } = await client.query(
    `select s.sample_id as "sampleId", coalesce(u.known_as, o.sha256) as "knownAs", o.sha256, x.format
       from settled s join samples x using (sample_id) join originals o using (original_id) left join unpacked u using (sample_id)
      where s.binned_at is null and (u.known_as = any($1) or o.sha256 = any($1)) order by s.arrived_at`,
    [sha256],
  );
  return fromRow(z.array(known), rows, 'sample that a pack knows');
}

const child = z.object({ sampleId: z.uuid(), own: ownFile.pick({ recipe: true, made: true }) });

/** Samples that came out of packs, were made from one that was known as that, and have no parent here yet. */
export async function childrenWaiting(
  client: pg.PoolClient,
  parentAs: string,
): Promise<z.infer<typeof child>[]> {
  const { rows } = await client.query(
    `select u.sample_id as "sampleId", u.own from unpacked u join settled s using (sample_id) where u.parent_as = $1 and s.parent is null`,
    [parentAs],
  );
  return fromRow(z.array(child), rows, 'note of a pack');
}

/** Says what a sample was made from. */
export async function writeParent(client: pg.PoolClient, sampleId: string, parent: string): Promise<void> {
  await client.query('update settled set parent = $2 where sample_id = $1', [sampleId, parent]);
}

/** What a recipe row is made of, where a pack says it. */
export const recipeOf = ({ recipe, made }: Pick<OwnFile, 'recipe' | 'made'>): KeptRecipe | null =>
  recipe && made ? { recipe, ...made } : null;
