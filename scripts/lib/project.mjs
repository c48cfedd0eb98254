// @ts-check
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** Absolute path of the project. */
export const projectFolder = join(dirname(fileURLToPath(import.meta.url)), '..', '..');
/** Everything that the application keeps on disk beside its code; ignored by git. */
export const dataFolder = process.env.GRENTO_DATA ?? join(projectFolder, 'data');
