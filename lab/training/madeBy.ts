import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { createReadStream, readFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import type { StoredWeights, WeightsMadeBy } from '@/core/weights/weights';
import { readTruth } from './truth';

/** Options that change what is exported. */
const TELLING = ['practice', 'excerpts', 'folds', 'only'] as const;
type Values = Partial<Record<(typeof TELLING)[number] | 'seed', string>>;

/** The commit that is checked out, and whether anything but the weights was changed since. */
export function commitNow(): { name: string; isChanged: boolean } {
  const git = (...words: string[]) =>
    execFileSync('git', words, { stdio: ['ignore', 'pipe', 'ignore'] }).toString();
  try {
    const changes = git('status', '--porcelain', '--', '.', ':!src/core/weights/weights.json');
    return { name: git('rev-parse', 'HEAD').trim(), isChanged: changes.trim() !== '' };
  } catch {
    return { name: 'unknown', isChanged: true };
  }
}

/** What identifies a corpus: a hash of its truth file and of the audio of every item in its order. */
export async function corpusOf(truthFile: string): Promise<WeightsMadeBy['corpora'][number]> {
  const hash = createHash('sha256').update(readFileSync(truthFile));
  for (const { path } of readTruth(truthFile))
    for await (const bytes of createReadStream(path)) hash.update(bytes);
  return { name: join(basename(dirname(truthFile)), basename(truthFile)), sha256: hash.digest('hex') };
}

/** The command's options as they are stored. */
export const storedArguments = (values: Values): string[] =>
  TELLING.flatMap((name) => (values[name] === undefined ? [] : [`--${name}`, values[name]]));

/**
 * The options under which stored weights were fitted, or one part of them (`only`). Throws RangeError where their two
 * parts were fitted under different ones and none is named.
 */
export function argumentsOf(madeBy: StoredWeights['madeBy'], only: string | undefined): Values {
  const { rhythm, sound } = madeBy;
  if (!only && JSON.stringify(rhythm) !== JSON.stringify(sound))
    throw new RangeError('Rhythm and sound were fitted by themselves: name one of them with --only.');
  const { arguments: words, seed } = only === 'sound' ? sound : rhythm;
  const values: Values = { seed: String(seed) };
  for (const name of TELLING) {
    const at = words.indexOf(`--${name}`);
    if (at >= 0) values[name] = words[at + 1];
  }
  return only ? { ...values, only } : values;
}
