import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { intakeCounts } from '@/store/intakeList';
import { intakeQuery } from '@/contract/shelfQuery';
import { log } from './log';
import { UserError } from './userError';

let isRunning = false;

/**
 * Begins to make the demo library, by the program that `npm start` uses: it sends its files through the same interface as
 * a browser does. Throws UserError where the library is not empty, or that is under way already.
 */
export async function loadDemoLibrary(): Promise<void> {
  const { all = 0, bin = 0 } = await intakeCounts(intakeQuery.parse({}));
  if (all + bin > 0)
    throw new UserError(
      'The demo library is only loaded into an empty library; this one holds samples.',
      409,
    );
  if (isRunning) throw new UserError('The demo library is loading already.', 409);
  const address = process.env.GRENTO_ADDRESS;
  if (!address) throw new UserError('The demo library can only be loaded by “npm start”.', 503);
  const child = spawn(
    process.execPath,
    [join(process.cwd(), 'build', 'demo.mjs'), '--into', address, '--when-empty'],
    { stdio: ['ignore', 'ignore', 'inherit'] },
  );
  isRunning = true;
  const end = (why: string | null) => {
    isRunning = false;
    if (why) log.error({ why }, 'the demo library was not made');
  };
  child.on('error', (error) => end(error.message));
  child.on('exit', (code) => end(code === 0 ? null : `it ended with ${code}`));
}
