import { isDatabaseTrouble } from '@/store/database';

/** Errors that are a sentence for the user: what was asked for cannot be done, however often it is tried. */
const REFUSALS = ['UserError', 'RecipeError', 'UndecodableError', 'RefusedChange'];

/** Whether an error, of this thread or another, says that it is of no use to try again. */
export const isRefusal = (error: unknown): error is Error =>
  error instanceof Error && REFUSALS.includes(error.name);

/** Errors of the threads themselves. */
const OF_THREADS = ['StoppedError', 'ThreadStartError'];

/** Whether an error says nothing about what was to be done: the database was away or busy, or a thread did not start. */
export const isTrouble = (error: unknown): boolean =>
  error instanceof Error && (OF_THREADS.includes(error.name) || isDatabaseTrouble(error));
