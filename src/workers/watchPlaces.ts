import { watch, type FSWatcher } from 'chokidar';
import { createReadStream, type Stats } from 'node:fs';
import { stat } from 'node:fs/promises';
import { basename, relative } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { AUDIO_EXTENSIONS } from '@/core/formats/endings';
import { log } from '@/server/log';
import { folderInIntake } from '@/server/places';
import { guardRoot } from '@/server/roots';
import { knownOf, takeIn } from '@/server/takeIn';
import type pg from 'pg';
import { changePlace, holdPlace, letPlaceGo, listPlaces } from '@/store/places';

/** A file that has not changed for this long is complete, ms. */
const STILL = 2000;

const isAllowed = (path: string) => {
  try {
    guardRoot(path, path);
    return true;
  } catch {
    return false;
  }
};

/** Waits until a file has stopped growing. Rejects when it goes away meanwhile. */
async function still(full: string): Promise<Stats> {
  for (let before = await stat(full); ;) {
    await sleep(STILL);
    const now = await stat(full);
    if (now.size === before.size && now.mtimeMs === before.mtimeMs) return now;
    before = now;
  }
}

/**
 * Takes in by itself what comes into watched places: once a file stops growing, one after another. Call
 * `renew` now and then: it follows what is watched now. Of several processes, on several hosts, only one watches a
 * place: the one that holds it as long as `holder` is connected.
 */
export function placeWatcher(holder: pg.ClientBase) {
  const watchers = new Map<number, FSWatcher>();
  let renewing = false;
  let row: Promise<void> = Promise.resolve();

  const takeNext = (place: { placeId: number; path: string }, full: string, info: Stats) => {
    row = row.then(async () => {
      try {
        if (!watchers.has(place.placeId)) return;
        const file = {
          name: basename(full),
          folder: folderInIntake(place, relative(place.path, full)),
          byteLength: info.size,
          modifiedMs: Math.floor(info.mtimeMs),
        };
        const [{ here, received }] = await knownOf([file]);
        if (here) return;
        await takeIn({ ...file, from: received, bytes: createReadStream(full, { start: received }) });
      } catch (error) {
        log.error({ event: 'watched file not imported', file: full, err: error });
        await changePlace(place.placeId, {
          fault: `“${basename(full)}” could not be imported: ${(error as Error).message}`.slice(0, 500),
        }).catch(() => {});
      }
    });
  };

  /** Files that still grow; further changes of them are no news. */
  const growing = new Set<string>();
  const arrived = (place: { placeId: number; path: string }, full: string) => {
    if (growing.has(full)) return;
    growing.add(full);
    still(full)
      .then((info) => takeNext(place, full, info))
      // It went away before it was complete.
      .catch(() => {})
      .finally(() => growing.delete(full));
  };

  return {
    async renew() {
      if (renewing) return;
      renewing = true;
      try {
        await follow();
      } finally {
        renewing = false;
      }
    },
    async close() {
      await Promise.all([...watchers.values()].map((watcher) => watcher.close()));
      watchers.clear();
    },
  };

  async function follow() {
    const wanted = (await listPlaces()).filter(({ watched, path }) => watched && isAllowed(path));
    for (const [placeId, watcher] of watchers)
      if (!wanted.some((place) => place.placeId === placeId)) {
        watchers.delete(placeId);
        await watcher.close();
        await letPlaceGo(holder, placeId);
      }
    for (const place of wanted) {
      if (watchers.has(place.placeId)) continue;
      // A folder of another host is left to a process there.
      if (!(await stat(place.path).catch(() => null))) continue;
      if (!(await holdPlace(holder, place.placeId))) continue;
      const watcher = watch(place.path, {
        ignored: (path, info) =>
          basename(path).startsWith('.') ||
          Boolean(info && !info.isDirectory() && !(info.isFile() && AUDIO_EXTENSIONS.test(path))),
        followSymlinks: false,
      });
      watchers.set(place.placeId, watcher);
      watcher.on('add', (full) => arrived(place, full));
      watcher.on('change', (full) => arrived(place, full));
      watcher.on('error', (error) => {
        log.error({ event: 'watching failed', place: place.path, err: error });
        void changePlace(place.placeId, { fault: `It cannot be watched: ${(error as Error).message}` });
      });
      log.info({ event: 'watching', place: place.path });
    }
  }
}
