import type { AccessToken } from '@/contract/access';
import { database } from './database';

/** Whether a session stands that was begun with the present passphrase; it is noted that it was seen. */
export async function sessionStands(tokenHash: string, passphraseTag: string): Promise<boolean> {
  const { rowCount } = await database().query(
    'update sessions set seen_at = now() where token_hash = $1 and passphrase_tag = $2 and ends_at > now()',
    [tokenHash, passphraseTag],
  );
  return rowCount === 1;
}

/** Begins a session; those that have ended are forgotten. */
export async function beginSession(tokenHash: string, passphraseTag: string, days: number): Promise<void> {
  await database().query('delete from sessions where ends_at < now() or passphrase_tag <> $1', [
    passphraseTag,
  ]);
  await database().query(
    `insert into sessions (token_hash, passphrase_tag, ends_at) values ($1, $2, now() + make_interval(days => $3))`,
    [tokenHash, passphraseTag, days],
  );
}

export async function endSession(tokenHash: string): Promise<void> {
  await database().query('delete from sessions where token_hash = $1', [tokenHash]);
}

/** Whether a script's token stands; it is noted that it was seen. */
export async function accessStands(tokenHash: string): Promise<boolean> {
  const { rowCount } = await database().query(
    'update access_tokens set seen_at = now() where token_hash = $1',
    [tokenHash],
  );
  return rowCount === 1;
}

/** All tokens of scripts, the newest first; the secrets themselves are nowhere. */
export async function listAccess(): Promise<AccessToken[]> {
  const { rows } = await database().query(
    `select token_id as "tokenId", name, made_at as "madeAt", seen_at as "seenAt" from access_tokens order by made_at desc`,
  );
  return rows;
}

export async function addAccess(name: string, tokenHash: string): Promise<void> {
  await database().query('insert into access_tokens (name, token_hash) values ($1, $2)', [name, tokenHash]);
}

/** Returns whether there was one. */
export async function revokeAccess(tokenId: string): Promise<boolean> {
  const { rowCount } = await database().query('delete from access_tokens where token_id = $1', [tokenId]);
  return rowCount === 1;
}
