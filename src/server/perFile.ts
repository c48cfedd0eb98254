import type { Stats } from 'node:fs';

/** A file as it is now: where, how long, and when it was last changed. */
export interface FileNow {
  full: string;
  info: Pick<Stats, 'size' | 'mtimeMs'>;
}

/** What is found out of files, remembered as long as they do not change, for the `most` last that were asked for first. */
export function perFile<T>(most: number, find: (full: string) => Promise<T>): (file: FileNow) => Promise<T> {
  const known = new Map<string, Promise<T>>();
  return ({ full, info }) => {
    const key = `${full} ${info.size} ${info.mtimeMs}`;
    const before = known.get(key);
    if (before) return before;
    const found = find(full);
    known.set(key, found);
    found.catch(() => known.delete(key));
    if (known.size > most) known.delete(known.keys().next().value!);
    return found;
  };
}
