// @ts-check
import { join } from 'node:path';
import { connected } from './databases.mjs';
import { projectFolder } from './project.mjs';

/** What processes that start at once wait for: only one of them brings the schema up to date. */
const LOCK = 7_340;

/**
 * Brings the schema up to date with the numbered files in src/store/migrations: all steps or none.
 * @param {string} url
 * @param {string} [target] the step to stop at
 * @returns {Promise<number>} how many steps were taken
 */
export async function migrate(url, target) {
  const { default: Postgrator } = await import('postgrator');
  return connected(url, async (client) => {
    await client.query('begin');
    await client.query('select pg_advisory_xact_lock($1)', [LOCK]);
    const postgrator = new Postgrator({
      migrationPattern: join(projectFolder, 'src', 'store', 'migrations', '*'),
      driver: 'pg',
      schemaTable: 'schema_version',
      execQuery: (query) => client.query(query),
    });
    const steps = await postgrator.migrate(target);
    await client.query('commit');
    return steps.length;
  });
}
