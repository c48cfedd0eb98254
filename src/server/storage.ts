import { statfs } from 'node:fs/promises';
import type { StorageState } from '@/contract/storage';
import { databaseUrl } from '@/store/database';
import { readLastBackup, readStored } from '@/store/storage';

const LOOPBACK = ['127.0.0.1', 'localhost', '[::1]'];

/** What the library takes up, what is free beside it, and when it was last backed up. */
export async function storageNow(): Promise<StorageState> {
  const [stored, lastBackup, freeBytes] = await Promise.all([readStored(), readLastBackup(), freeBeside()]);
  return { ...stored, lastBackup, freeBytes };
}

/** Bytes left where the private database lies; null where the database is another one. */
async function freeBeside(): Promise<number | null> {
  const folder = process.env.GRENTO_DATA;
  if (!folder || !LOOPBACK.includes(new URL(databaseUrl()).hostname)) return null;
  const { bavail, bsize } = await statfs(folder);
  return bavail * bsize;
}
