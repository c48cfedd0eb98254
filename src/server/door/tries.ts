/** So many wrong tries in a row are let pass. */
const FREE = 5;
/** Then each is answered only after a pause that doubles, up to this, ms. */
const LONGEST_PAUSE = 60_000;
/** After so long without a try all is forgotten, ms. */
const FORGOTTEN = 15 * 60_000;
/** More senders than these are not told apart. */
const MOST = 1000;

interface Tried {
  wrong: number;
  at: number;
}

/** Counts wrong tries by who makes them, and says how long they have to wait. */
export function throttle(now: () => number = Date.now) {
  const tried = new Map<string, Tried>();
  const of = (who: string) => {
    const one = tried.get(who);
    if (one && now() - one.at > FORGOTTEN) tried.delete(who);
    return tried.get(who);
  };
  return {
    /** Milliseconds that somebody still has to wait before the next try. */
    wait(who: string): number {
      const one = of(who);
      if (!one || one.wrong < FREE) return 0;
      return Math.max(0, one.at + Math.min(LONGEST_PAUSE, 1000 * 2 ** (one.wrong - FREE)) - now());
    },
    wrong(who: string) {
      const key = tried.size >= MOST && !tried.has(who) ? 'others' : who;
      tried.set(key, { wrong: (of(key)?.wrong ?? 0) + 1, at: now() });
    },
    right(who: string) {
      tried.delete(who);
    },
  };
}
