import { DEFAULT_SETTINGS, librarySettings, type LibrarySettings } from '@/contract/settings';
import type { Queryable } from './database';
import { fromRow } from './rows';

/** The library's customs. */
export async function readSettings(on: Queryable): Promise<LibrarySettings> {
  const { rows } = await on.query('select name, value from settings');
  const kept = Object.fromEntries(rows.map(({ name, value }) => [name, value]));
  return fromRow(librarySettings, { ...DEFAULT_SETTINGS, ...kept }, 'setting');
}

/** Keeps the library's customs. */
export async function writeSettings(on: Queryable, settings: Partial<LibrarySettings>): Promise<void> {
  for (const [name, value] of Object.entries(settings))
    await on.query(
      'insert into settings (name, value) values ($1, $2) on conflict (name) do update set value = excluded.value',
      [name, JSON.stringify(value)],
    );
}
