// @ts-check
import { setTimeout as sleep } from 'node:timers/promises';

/** Pauses before something that died is started again, ms. */
const PAUSES = [200, 1000, 3000, 10_000, 30_000];

/**
 * Counts how often something died lately, for growing pauses before it is started again; what ran well for a while begins again. It is
 * never given up: one part that cannot run does not take the others with it.
 * @param {() => number} [now]
 */
export function again(now = Date.now) {
  /** @type {number[]} */
  let deaths = [];
  return {
    /** How long to wait before starting it again, ms. @returns {number} */
    died() {
      deaths = [...deaths.filter((at) => now() - at < 180_000), now()];
      return PAUSES[Math.min(deaths.length, PAUSES.length) - 1];
    },
    /** Waits as `died` says. */
    async rest() {
      await sleep(this.died());
    },
  };
}
