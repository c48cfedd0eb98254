import pino from 'pino';

/** One line of JSON per event, on standard error or in the file that GRENTO_LOG names. */
export const log = pino(
  { level: process.env.GRENTO_LOG_LEVEL ?? 'info', base: { process: process.env.GRENTO_PROCESS ?? 'web' } },
  process.env.GRENTO_LOG
    ? pino.destination({ dest: process.env.GRENTO_LOG, append: true, sync: true })
    : pino.destination(2),
);
