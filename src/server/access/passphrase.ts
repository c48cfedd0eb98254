import { createHash, randomBytes, scrypt, timingSafeEqual } from 'node:crypto';
import { readFileSync } from 'node:fs';

/** The hash of the passphrase, as the starter wrote it; null where none is asked for. */
function storedHash(): string | null {
  const file = process.env.GRENTO_PASSPHRASE_FILE;
  if (!file) return null;
  // A file that should be there and cannot be read must not open the door.
  return readFileSync(file, 'utf8').trim();
}

export const isGuarded = (): boolean => Boolean(process.env.GRENTO_PASSPHRASE_FILE);

/** By what sessions know the passphrase that they were begun with. */
export const passphraseTag = (): string => sha256(storedHash() ?? '').slice(0, 32);

/** Whether somebody said the passphrase (scrypt; the file has "scrypt N r p salt hash", the last two in hexadecimal). */
export async function isPassphrase(said: string): Promise<boolean> {
  const [name, N, r, p, salt, hash] = (storedHash() ?? '').split(' ');
  if (name !== 'scrypt' || !hash) return false;
  const expected = Buffer.from(hash, 'hex');
  const options = { N: Number(N), r: Number(r), p: Number(p), maxmem: 256 * Number(N) * Number(r) };
  const got = await new Promise<Buffer>((resolve, reject) =>
    scrypt(said.normalize('NFKC'), Buffer.from(salt, 'hex'), expected.length, options, (error, key) =>
      error ? reject(error) : resolve(key),
    ),
  );
  return timingSafeEqual(got, expected);
}

/** A secret that nobody guesses. */
export const newSecret = (): string => randomBytes(32).toString('base64url');

export const sha256 = (text: string): string => createHash('sha256').update(text).digest('hex');
