import type pg from 'pg';
import { ownFile, type OwnFile } from '@/library/packs/own';
import { database } from './database';
import { fromRow } from './rows';

/** Keeps what a pack knows of a file until that has been measured. */
export async function keepNote(sha256: string, own: OwnFile): Promise<void> {
  await database().query(
    'insert into pack_notes (sha256, own) values ($1, $2) on conflict (sha256) do update set own = excluded.own, came_at = now()',
    [sha256, JSON.stringify(own)],
  );
}

/** Forgets it: the file was here already, or is not what the pack says. */
export async function dropNote(sha256: string): Promise<void> {
  await database().query('delete from pack_notes where sha256 = $1', [sha256]);
}

/** Takes out what a pack knows of these bytes; null for all others. */
export async function takeNote(client: pg.PoolClient, sha256: string): Promise<OwnFile | null> {
  const { rows } = await client.query('delete from pack_notes where sha256 = $1 returning own', [sha256]);
  return rows.length > 0 ? fromRow(ownFile, rows[0].own, 'note of a pack') : null;
}

/** Forgets what packs said of files that never came. */
export async function forgetOldNotes(): Promise<void> {
  await database().query("delete from pack_notes where came_at < now() - interval '30 days'");
}
