import { realpathSync } from 'node:fs';
import { homedir } from 'node:os';
import { delimiter, dirname, isAbsolute, join, relative, sep } from 'node:path';
import { UserError } from './userError';

/** Folders of the system: nobody keeps samples there, and much in them is nobody's business. */
const SYSTEM = [
  '/bin',
  '/boot',
  '/dev',
  '/etc',
  '/lib',
  '/lib32',
  '/lib64',
  '/proc',
  '/run',
  '/sbin',
  '/sys',
  '/usr',
  '/var',
];

/** Whether `path` is `folder` or lies below it; both whole, without links. */
export function isBelow(folder: string, path: string): boolean {
  const way = relative(folder, path);
  return way === '' || !(way === '..' || way.startsWith(`..${sep}`) || isAbsolute(way));
}

const realOf = (path: string): string | null => {
  try {
    return realpathSync(path);
  } catch {
    return null;
  }
};

/** Grento's own folders, which are nobody's samples: the data folder (GRENTO_DATA; `data` of the project). */
const ownData = () => process.env.GRENTO_DATA ?? join(process.cwd(), 'data');

/**
 * The folders below which a place may be kept: what the operator named when starting (GRENTO_ROOTS, parted as PATH
 * is), else the account's music folder and the folder `samples` of the project. Whole paths as they were named.
 */
export function allowedRoots(): string[] {
  const named = (process.env.GRENTO_ROOTS ?? '').split(delimiter).filter(Boolean);
  return named.length > 0 ? named : [join(homedir(), 'Music'), join(process.cwd(), 'samples')];
}

/** Why a folder may not be kept, looked into or played from, or null when it may. `real`: whole, without links. */
function whyNot(real: string): string | null {
  if (real === dirname(real)) return 'it is the whole file system';
  if (SYSTEM.some((folder) => isBelow(folder, real))) return 'it belongs to the system';
  const data = realOf(ownData());
  if (data && (isBelow(data, real) || isBelow(real, data))) return 'Grento stores its own data there';
  const isAllowed = allowedRoots().some((root) => {
    const there = realOf(root);
    return there !== null && isBelow(there, real);
  });
  return isAllowed ? null : 'it is outside the folders that Grento may read';
}

/** Throws UserError (403) that names the folders that are allowed. */
export function guardRoot(path: string, real: string): void {
  const why = whyNot(real);
  if (!why) return;
  const roots = allowedRoots().map((root) => `“${root}”`);
  throw new UserError(
    `“${path}” cannot be added: ${why}. Allowed are folders below ${roots.join(' or ')}; npm start -- --root FOLDER allows others.`,
    403,
  );
}
