import { log } from '@/server/log';

/** Writes what went wrong into the log and goes on. */
export function logged(error: unknown): null {
  log.error({ event: 'tasks process', err: error });
  return null;
}
