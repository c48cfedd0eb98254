// @ts-check
import { setTimeout as sleep } from 'node:timers/promises';

/** Pauses before something that died is started again, ms. */
const PAUSES = [200, 1000, 3000, 10_000, 30_000];
/** What died more often than this within the hour is not mended by starting it. */
const MOST_AN_HOUR = 20;
const HOUR = 3600_000;

/**
 * Counts how often something died, for growing pauses before it is started again; what ran well for a while begins anew.
 * @param {() => number} [now]
 */
export function again(now = Date.now) {
  /** @type {number[]} */
  let deaths = [];
  return {
    /** How long to wait before starting it again, ms; null when it is to stay as it is. @returns {number | null} */
    died() {
      deaths = [...deaths.filter((at) => now() - at < HOUR), now()];
      if (deaths.length > MOST_AN_HOUR) return null;
      const lately = deaths.filter((at) => now() - at < 60_000).length;
      return PAUSES[Math.min(lately, PAUSES.length) - 1];
    },
    /** Waits as `died` says. @returns {Promise<boolean>} whether it is to be started again */
    async rest() {
      const pause = this.died();
      if (pause === null) return false;
      await sleep(pause);
      return true;
    },
  };
}
