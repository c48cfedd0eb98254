// @ts-check
import { setTimeout as sleep } from 'node:timers/promises';
import { again } from './again.mjs';
import { say } from './say.mjs';

/** How often it is looked whether the database lives, ms. */
const LOOK_EVERY = 500;

/** @typedef {'web' | 'tasks' | 'delivery'} Part */

/**
 * Starts again what dies of a running Grento, with growing pauses; nothing of it ends the rest.
 * @param {{ database: { isRunning: () => boolean, restart: () => boolean }, isStopping: () => boolean }} given
 */
export function supervise({ database, isStopping }) {
  const deaths = { web: again(), tasks: again(), delivery: again(), database: again() };
  const watchDatabase = async () => {
    while (!isStopping()) {
      await sleep(LOOK_EVERY);
      if (isStopping() || database.isRunning()) continue;
      say('The database ended and is started again.');
      await deaths.database.rest();
      if (!isStopping() && !database.isRunning()) database.restart();
    }
  };
  void watchDatabase();
  return {
    /** @param {Part} part @param {string} log @param {() => void} restart */
    async ended(part, log, restart) {
      await deaths[part].rest();
      // Its database may have died with it: that comes first.
      while (!isStopping() && !database.isRunning()) await sleep(LOOK_EVERY / 2);
      if (isStopping()) return;
      say(`The ${part} process ended and is started again (${log}).`);
      restart();
    },
  };
}
