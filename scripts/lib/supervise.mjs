// @ts-check
import { setTimeout as sleep } from 'node:timers/promises';
import { again } from './again.mjs';
import { say } from './say.mjs';

/** How often it is looked whether the database lives, ms. */
const LOOK_EVERY = 500;

/**
 * Starts again what dies of a running Grento, with growing pauses; `onHopeless`: it died too often for that to help.
 * @param {{ database: { isRunning: () => boolean, restart: () => boolean }, isStopping: () => boolean, onHopeless: () => void }} given
 */
export function supervise({ database, isStopping, onHopeless }) {
  const deaths = { web: again(), tasks: again(), database: again() };
  const watchDatabase = async () => {
    while (!isStopping()) {
      await sleep(LOOK_EVERY);
      if (isStopping() || database.isRunning()) continue;
      say('The database ended and is started again.');
      if (!(await deaths.database.rest())) return onHopeless();
      if (!isStopping() && !database.isRunning()) database.restart();
    }
  };
  void watchDatabase();
  return {
    /** @param {'web' | 'tasks'} what @param {string} log @param {() => void} restart */
    async ended(what, log, restart) {
      if (!(await deaths[what].rest())) {
        say(`The ${what} process ended again and again; its log is ${log}.`);
        return onHopeless();
      }
      // Its database may have died with it: that comes first.
      while (!isStopping() && !database.isRunning()) await sleep(LOOK_EVERY / 2);
      if (isStopping()) return;
      say(`The ${what} process ended and is started again (${log}).`);
      restart();
    },
  };
}
