/** So many wrong tries in a row are let pass. */
const FREE = 5;
/** Then each is answered only after a pause that doubles, up to this, ms. */
const LONGEST_PAUSE = 60_000;
/** After so long without a try all of a sender is forgotten, ms. */
const FORGOTTEN = 15 * 60_000;
/** So many senders are told apart; of more, those are forgotten that tried longest ago. */
const MOST = 1000;
/** So many wrong tries of all senders together are let pass; one more heals in each of these times, ms. */
const FREE_OF_ALL = 60;
const HEALS_IN = 15_000;

interface Tried {
  wrong: number;
  at: number;
}

/**
 * Counts wrong tries by who makes them and of all together, and says how long somebody has to wait. However many addresses somebody
 * has, no more than a few tries a minute are heard; whoever comes later can enter once it is quiet again.
 */
export function throttle(now: () => number = Date.now) {
  /** Those that tried last stand last. */
  const tried = new Map<string, Tried>();
  let all = { wrong: 0, at: now() };
  const of = (who: string) => {
    const one = tried.get(who);
    if (one && now() - one.at > FORGOTTEN) tried.delete(who);
    return tried.get(who);
  };
  const healed = () => Math.max(0, all.wrong - (now() - all.at) / HEALS_IN);
  return {
    /** Milliseconds that somebody still has to wait before the next try. */
    wait(who: string): number {
      const ofAll = Math.max(0, healed() - FREE_OF_ALL + 1) * HEALS_IN;
      const one = of(who);
      if (!one || one.wrong < FREE) return ofAll;
      return Math.max(ofAll, one.at + Math.min(LONGEST_PAUSE, 1000 * 2 ** (one.wrong - FREE)) - now());
    },
    wrong(who: string) {
      const wrong = (of(who)?.wrong ?? 0) + 1;
      tried.delete(who);
      tried.set(who, { wrong, at: now() });
      if (tried.size > MOST) tried.delete(tried.keys().next().value!);
      all = { wrong: Math.min(FREE_OF_ALL, healed() + 1), at: now() };
    },
    right(who: string) {
      tried.delete(who);
      all = { wrong: Math.max(0, healed() - 1), at: now() };
    },
  };
}
