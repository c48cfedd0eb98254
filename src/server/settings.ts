import { librarySettings, type LibrarySettings } from '@/contract/settings';
import { database } from '@/store/database';
import { readSettings, writeSettings } from '@/store/settings';

/** The library's customs. */
export function settingsNow(): Promise<LibrarySettings> {
  return readSettings(database());
}

/** Changes some of the library's settings; samples that are measured from now on follow them. */
export async function changeSettings(input: unknown): Promise<LibrarySettings> {
  await writeSettings(database(), librarySettings.partial().parse(input));
  return readSettings(database());
}
