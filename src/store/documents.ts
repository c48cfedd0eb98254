import type pg from 'pg';
import type { z } from 'zod';
import { documentOf, type VersionedDocument, type DocumentKind } from '@/contract/documents';
import { database, type Queryable } from './database';
import { fromRow, known } from './rows';

/** So many steps can be undone. */
const MOST_STEPS = 300;

/** Where everything of a kind is kept that steps can be undone of: a table of them, and one of the states that they were in. */
export interface DocumentStore<S> {
  /**
   * One as it is now; null where there is none, or it is in the bin (`orBinned`: also then). `lock`: nobody else changes it
   * meanwhile.
   */
  read(
    on: Queryable,
    id: string,
    how?: { lock?: boolean; orBinned?: boolean },
  ): Promise<VersionedDocument<S> | null>;
  /** Keeps a new one; returns its number. */
  insert(client: pg.PoolClient, state: S, words: string, curatorId: string | null): Promise<string>;
  /** Makes a state the one that is shown, after the one at `sequence`; what was undone before is gone. */
  addState(
    client: pg.PoolClient,
    kept: Pick<VersionedDocument<S>, 'id' | 'sequence'>,
    state: S,
    words: string,
    curatorId: string | null,
  ): Promise<void>;
  /** Makes more of the state that is shown, as part of the step that led to it. */
  growState(
    client: pg.PoolClient,
    kept: Pick<VersionedDocument<S>, 'id' | 'sequence'>,
    state: S,
  ): Promise<void>;
  /** Shows another of its states. */
  showState(client: pg.PoolClient, id: string, sequence: number): Promise<void>;
  /** Those, not in the bin, that hold a sample now; those changed last first. */
  holding(sampleId: string): Promise<{ id: string; name: string }[]>;
  /** How many that are not in the bin hold any of these samples. */
  countHolding(sampleIds: readonly string[]): Promise<number>;
  /** Puts one into the bin or takes it out; false where there is none, or it is there already. */
  bin(id: string, isBinned: boolean): Promise<boolean>;
}

/** More would be no help to find one. */
export const MOST_LISTED = 500;

/** Where the states of a kind hold samples: a list, and what a sample is in it. */
interface Holds {
  field: 'lanes' | 'sampleIds';
  as: (sampleId: string) => unknown;
}

/** The store of a kind, whose states are of a shape in this version of it. */
export function documentStore<S extends z.ZodType>(
  kind: DocumentKind,
  shape: S,
  version: number,
  { field, as }: Holds,
): DocumentStore<z.infer<S>> {
  const [all, states, id] = [`${kind}s`, `${kind}_states`, `${kind}_id`];
  const kept = documentOf(shape);
  type State = z.infer<S>;
  const insertState = (
    client: pg.PoolClient,
    of: string,
    sequence: number,
    state: State,
    words: string,
    curatorId: string | null,
  ) =>
    client.query(
      `insert into ${states} (${id}, sequence, words, state, version, curator_id) values ($1, $2, $3, $4, ${version}, $5)`,
      [of, sequence, words, JSON.stringify(state), curatorId],
    );
  const showState = async (client: pg.PoolClient, of: string, sequence: number) => {
    await client.query(`update ${all} set sequence = $2, changed_at = now() where ${id} = $1`, [
      of,
      sequence,
    ]);
  };
  const from = `from ${all} b join ${states} s using (${id}, sequence) where b.binned_at is null and s.state -> '${field}'`;
  return {
    showState,
    async holding(sampleId) {
      const { rows } = await database().query(
        `select b.${id} as id, s.state ->> 'name' as name ${from} @> $1::jsonb order by b.changed_at desc limit ${MOST_LISTED}`,
        [JSON.stringify([as(sampleId)])],
      );
      return rows;
    },
    async countHolding(sampleIds) {
      const { rows } = await database().query(`select count(*) as count ${from} @> any($1::jsonb[])`, [
        sampleIds.map((sampleId) => JSON.stringify([as(sampleId)])),
      ]);
      return Number(rows[0].count);
    },
    async read(on, of, { lock = false, orBinned = false } = {}) {
      // Before anything is read: who has waited is to see what was changed meanwhile.
      if (lock) await on.query(`select from ${all} where ${id} = $1 for update`, [of]);
      const { rows } = await on.query(
        `select b.${id} as id, b.sequence, s.state, s.version,
                (select case when b.sequence > min(sequence) then s.words end from ${states} o where o.${id} = b.${id}) as undo,
                (select words from ${states} o where o.${id} = b.${id} and o.sequence = b.sequence + 1) as redo
           from ${all} b join ${states} s using (${id}, sequence)
          where b.${id} = $1 and ($2 or b.binned_at is null)`,
        [of, orBinned],
      );
      if (rows.length === 0) return null;
      known(rows[0].version, version, kind);
      return fromRow(kept, rows[0], kind) as VersionedDocument<State>;
    },
    async insert(client, state, words, curatorId) {
      const { rows } = await client.query(`insert into ${all} default values returning ${id} as id`);
      await insertState(client, rows[0].id, 0, state, words, curatorId);
      return rows[0].id;
    },
    async addState(client, { id: of, sequence }, state, words, curatorId) {
      await client.query(
        `delete from ${states} where ${id} = $1 and (sequence > $2 or sequence <= $2 - $3)`,
        [of, sequence, MOST_STEPS],
      );
      await insertState(client, of, sequence + 1, state, words, curatorId);
      await showState(client, of, sequence + 1);
    },
    async growState(client, { id: of, sequence }, state) {
      await client.query(`update ${states} set state = $3 where ${id} = $1 and sequence = $2`, [
        ...[of, sequence],
        JSON.stringify(state),
      ]);
      await client.query(`delete from ${states} where ${id} = $1 and sequence > $2`, [of, sequence]);
      await showState(client, of, sequence);
    },
    async bin(of, isBinned) {
      const { rowCount } = await database().query(
        `update ${all} set binned_at = case when $2 then now() end where ${id} = $1 and (binned_at is null) = $2`,
        [of, isBinned],
      );
      return rowCount === 1;
    },
  };
}
