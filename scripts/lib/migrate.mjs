// @ts-check
import { join } from 'node:path';
import { projectFolder } from './project.mjs';

/**
 * Brings the schema up to date with the numbered files in src/store/migrations.
 * @param {string} url
 * @returns {Promise<number>} how many steps were taken
 */
export async function migrate(url) {
  const { default: Postgrator } = await import('postgrator');
  const { default: pg } = await import('pg');
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    const postgrator = new Postgrator({
      migrationPattern: join(projectFolder, 'src', 'store', 'migrations', '*'),
      driver: 'pg',
      schemaTable: 'schema_version',
      execQuery: (query) => client.query(query),
    });
    return (await postgrator.migrate()).length;
  } finally {
    await client.end();
  }
}
