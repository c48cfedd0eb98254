import { createHash } from 'node:crypto';
import { staysAsItIs, proposalOfRow } from '@/library/samples/aims';
import { gridMidi } from '@/core/formats/gridMidi';
import type { SampleEntry } from '@/contract/entry';
import type { Pack, PackPaths } from '@/contract/pack';
import { recipe as recipeShape, type Recipe } from '@/core/recipes/recipe';
import { whyNotTagged } from '@/library/samples/taggable';
import { jamsOf } from '@/library/packs/annotations';
import { ownOf } from '@/library/packs/own';
import { tableRowOf } from '@/library/packs/table';
import { parentOf, recipeAtTarget } from '@/library/recipes/aims';
import { differencesOf, type Differences } from '@/core/recipes/differences';
import { RecipeError } from '@/core/recipes/recipeError';
import { differencesText } from '@/words/differences';
import { database, transaction } from '@/store/database';
import { endItem, holdTask } from '@/store/longTasks';
import { dropOriginals } from '@/store/heldBytes';
import { storeOriginal, type StoredOriginal } from '@/store/originalBytes';
import { madeBefore, writeParts, type NewPart } from '@/store/packWritings';
import { readRecipe } from '@/store/recipes';
import { readSampleFile } from '@/store/samples';
import type { TakenTask } from '@/store/tasks';
import { readEntry } from '../entry';
import { inOnePart } from '../inOnePart';
import { taggedCopy } from '../taggedCopy';
import { notFound } from '../userError';
import { measuredFile } from './made';
import { renderedBytes } from './render';

/** Shares of a sample's time: its own file, the one at the target; the rest is its click. */
const SHARES = { file: 0.1, atTarget: 0.7 } as const;
/** Raised when the same question comes to other bytes than before. */
const MAKING = 1;

/** A large file of a pack, without its path. */
interface Held {
  originalId: number;
  sha256: string;
  byteLength: number;
  madeBy: string | null;
  /** How far it is from what was planned; null for what was not made by a recipe. */
  differences: Differences | null;
}

/**
 * Writes what belongs to one sample of a pack: its file, the one at the target, click, tempo map and annotations; all of it is there at
 * once, or nothing when the task is no longer theirs. What was made in the same way for an earlier writing is not made again. Throws
 * UserError, RecipeError and UndecodableError with a sentence.
 */
export async function packSample(
  task: TakenTask<'pack'>,
  position: number,
  index: number,
  onProgress: (share: number) => void,
): Promise<void> {
  const { writingId, state, lines } = task.payload;
  const { sampleId, paths } = lines[index];
  const entry = await readEntry(sampleId);
  const made: number[] = [];
  const kept: Keep = (original, madeBy, differences = null) => {
    const { originalId, sha256, byteLength, known } = original;
    if (!known) made.push(originalId);
    return { originalId, sha256, byteLength, madeBy, differences };
  };
  try {
    const parts: NewPart[] = [];
    const large = (path: string, held: Held) => parts.push({ path, bytes: null, ...held });
    const own = await ownFile(entry, state, kept);
    if (paths.file) large(paths.file, own);
    onProgress(SHARES.file);

    let differences: Differences | null = null;
    if (paths.atTarget) {
      const share = (done: number) => onProgress(SHARES.file + SHARES.atTarget * done);
      const file = await atTarget(entry, state, own, kept, share);
      large(paths.atTarget, file);
      differences = file.differences;
    }
    if (paths.click) {
      const share = (done: number) => onProgress(SHARES.file + SHARES.atTarget + 0.2 * done);
      large(paths.click, await click(entry, kept, share));
    }
    for (const [path, text] of smallFiles(entry, paths, (await readRecipe(sampleId))?.recipe ?? null)) {
      const bytes = typeof text === 'string' ? Buffer.from(text) : text;
      const sha256 = createHash('sha256').update(bytes).digest('hex');
      parts.push({
        ...{ path, originalId: null, bytes, sha256, byteLength: bytes.length },
        ...{ madeBy: null, differences: null },
      });
    }
    const { durationSeconds } = entry.summary;
    await transaction(async (client) => {
      if (!(await holdTask(client, task))) return;
      const row = tableRowOf({ entry, paths, differences: differences && differencesText(differences) });
      const at = { writingId, place: index, sampleId, sequence: entry.sequence };
      await writeParts(client, at, { row, durationSeconds }, parts);
      await endItem(task, position, { outcome: 'packed', sampleId, received: 1000 }, client);
    });
  } finally {
    // Nothing rests on what was stored for a task that ended meanwhile.
    await dropOriginals(database(), made);
  }
}

type Keep = (original: StoredOriginal, madeBy: string, differences?: Differences | null) => Held;

/** What a file is known again by: the same question always comes to the same bytes. */
const askedAs = (question: object) =>
  createHash('sha256')
    .update(JSON.stringify({ ...question, making: MAKING }))
    .digest('hex');

/** What of a recipe comes to other bytes: not what its parent is called, nor which revision of it was seen. */
const bytesOf = (recipe: Recipe) =>
  askedAs({ ...recipe, name: '', parent: { ...recipe.parent, name: '', sequence: null, isProved: false } });

async function onceOnly(madeBy: string, make: () => Promise<Held>): Promise<Held> {
  const before = await madeBefore(madeBy);
  return before ? { ...before, madeBy } : make();
}

/** The sample's own file: its tagged copy, or the bytes that arrived. */
async function ownFile(
  { summary, settled, sequence }: SampleEntry,
  { files }: Pack,
  keep: Keep,
): Promise<Held> {
  const { sampleId, name, format } = summary;
  if (files === 'original' || whyNotTagged({ name, format }, settled.grid !== null) !== null) {
    const file = await readSampleFile(database(), sampleId);
    if (!file) throw notFound();
    const { originalId, sha256, byteLength } = file;
    return { originalId, sha256, byteLength, madeBy: null, differences: null };
  }
  const madeBy = askedAs({ tagged: sampleId, sequence });
  return onceOnly(madeBy, async () =>
    keep(await storeOriginal((await taggedCopy(sampleId)).bytes, Infinity), madeBy),
  );
}

/** The sample at the pack's target, measured anew; what that leaves as it is stays its own file. */
async function atTarget(
  entry: SampleEntry,
  { atTarget: target }: Pack,
  own: Held,
  keep: Keep,
  onProgress: (share: number) => void,
): Promise<Held> {
  if (!target || staysAsItIs(proposalOfRow(entry.summary, target))) return own;
  const { format, sampleRate } = target;
  const recipe = recipeAtTarget(entry, target, { format, sampleRate, template: '{name}' });
  if (!recipe) throw new RecipeError('It is not measured yet.');
  const madeBy = bytesOf(recipe);
  return onceOnly(madeBy, async () => {
    const { bytes, planned } = await renderedBytes(recipe, format, onProgress);
    const { original, found } = await measuredFile(bytes, (share) => onProgress(0.8 + 0.2 * share));
    return keep(original, madeBy, differencesOf(planned, found.measurement));
  });
}

/** The click of a sample, as long as it is. */
async function click(entry: SampleEntry, keep: Keep, onProgress: (share: number) => void): Promise<Held> {
  const parent = parentOf(entry);
  if (!parent?.grid) throw new RecipeError('It has no grid that a click could stand on.');
  const format = 'wav 16';
  const recipe = recipeShape.parse({
    ...{ parent: { ...parent, hits: [] }, clickOnly: true, kind: 'loop', name: 'click' },
    write: { format },
  });
  const madeBy = bytesOf(recipe);
  return onceOnly(madeBy, async () => {
    const { bytes } = await renderedBytes(recipe, format, onProgress);
    return keep(await storeOriginal(inOnePart(bytes), Infinity), madeBy);
  });
}

/** Files that are made of what is known of a sample. */
function* smallFiles(
  entry: SampleEntry,
  paths: PackPaths,
  recipe: Recipe | null,
): Generator<[path: string, text: string | Uint8Array]> {
  const { summary, settled } = entry;
  const { grid, key } = settled;
  if (paths.tempoMap && grid) {
    const end = summary.durationSeconds ?? 0;
    const markers = [{ time: 0, name: 'the sample begins' }];
    yield [
      paths.tempoMap,
      gridMidi({ ...{ name: summary.name, grid, end, markers }, key: key && 'tonic' in key ? key : null }),
    ];
  }
  const json = (value: object) => `${JSON.stringify(value, null, 1)}\n`;
  if (paths.annotations) yield [paths.annotations, json(jamsOf(entry))];
  if (paths.own) yield [paths.own, json(ownOf(entry, recipe))];
}
