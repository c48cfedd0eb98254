/** Rests between tries while the server cannot be reached, ms; the last one again and again. */
const RESTS = [500, 1000, 2000, 4000, 8000];

/** How long to wait before the next try, after so many in vain, ms. */
export const restAfter = (tries: number): number => RESTS[Math.min(tries, RESTS.length - 1)];

/** Answers that say nothing about what was asked: no answer at all (0), or a server that is being started, or is busy. */
const PASSING = [0, 408, 429, 502, 503, 504];

/** Whether what was answered so may be sent again. */
export const isPassing = (status: number): boolean => PASSING.includes(status);
