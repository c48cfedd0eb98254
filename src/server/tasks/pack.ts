import { createHash } from 'node:crypto';
import { staysAsItIs, proposalOfRow } from '@/library/samples/aims';
import { gridMidi } from '@/core/formats/gridMidi';
import type { SampleEntry } from '@/contract/entry';
import type { Pack, PackPaths } from '@/contract/pack';
import { recipe as recipeShape, type Recipe } from '@/core/recipes/recipe';
import { whyNotTagged } from '@/library/samples/taggable';
import { jamsOf } from '@/library/packs/annotations';
import { ownOf, type OwnRest } from '@/library/packs/own';
import { tableRowOf } from '@/library/packs/table';
import { parentOf, recipeAtTarget } from '@/library/recipes/aims';
import type { Differences, Planned } from '@/core/recipes/differences';
import { differencesText } from '@/words/differences';
import { RecipeError } from '@/core/recipes/recipeError';
import { database, transaction } from '@/store/database';
import { endItem, holdTask } from '@/store/longTasks';
import { dropOriginals } from '@/store/heldBytes';
import { storeOriginal, type StoredOriginal } from '@/store/originalBytes';
import { madeBefore, writeParts, type NewPart } from '@/store/packWritings';
import { readRecipe } from '@/store/recipes';
import { readSampleFile } from '@/store/samples';
import { setOfAny } from '@/store/stemSets';
import { readSummaries } from '@/store/summaries';
import type { TakenTask } from '@/store/tasks';
import { readEntry } from '../entry';
import { inOnePart } from '../inOnePart';
import { entryOfCopy, taggedCopy } from '../taggedCopy';
import { notFound } from '../userError';
import { inBalance, renderedAndMeasured, renderedFile } from './render';

/** Shares of a sample's time: its own file, the one at the target; the rest is its click. */
const SHARES = { file: 0.1, atTarget: 0.7 } as const;
/** Raised when the same question comes to other bytes than before. */
const MAKING = 2;

/** A large file of a pack, without its path. */
interface Held {
  originalId: number;
  sha256: string;
  byteLength: number;
  madeBy: string | null;
  /** What was planned of it, and how far it is from that; null for what was not made by a recipe. */
  told: { planned: Planned; differences: Differences } | null;
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
  const arrived = await readEntry(sampleId);
  // What is described is what is written.
  const entry = state.files === 'tagged' ? entryOfCopy(arrived) : arrived;
  const made: number[] = [];
  const kept: Keep = (original, madeBy, told = null) => {
    const { originalId, sha256, byteLength, known } = original;
    if (!known) made.push(originalId);
    return { originalId, sha256, byteLength, madeBy, told };
  };
  try {
    const parts: NewPart[] = [];
    const large = (path: string, held: Held) => parts.push({ path, bytes: null, ...held });
    const own = await ownFile(arrived, state, kept);
    if (paths.file) large(paths.file, own);
    onProgress(SHARES.file);
    let told: Held['told'] = null;
    if (paths.atTarget) {
      const share = (done: number) => onProgress(SHARES.file + SHARES.atTarget * done);
      const stems = await stemsOf(arrived, lines);
      const file = await atTarget(arrived, stems, state, own, kept, share);
      large(paths.atTarget, file);
      told = file.told;
    }
    if (paths.click) {
      const share = (done: number) => onProgress(SHARES.file + SHARES.atTarget + 0.2 * done);
      large(paths.click, await click(entry, kept, share));
    }
    for (const [path, text] of smallFiles(entry, paths, await restOf(arrived))) {
      const bytes = typeof text === 'string' ? Buffer.from(text) : text;
      const sha256 = createHash('sha256').update(bytes).digest('hex');
      parts.push({
        ...{ path, originalId: null, bytes, sha256, byteLength: bytes.length },
        ...{ madeBy: null, told: null },
      });
    }
    const { durationSeconds } = entry.summary;
    await transaction(async (client) => {
      if (!(await holdTask(client, task))) return;
      const row = tableRowOf({
        ...{ entry, paths },
        atTarget: told && { planned: told.planned, differences: differencesText(told.differences) },
      });
      const at = { writingId, place: index, sampleId, sequence: arrived.sequence };
      await writeParts(client, at, { row, durationSeconds }, parts);
      await endItem(task, position, { outcome: 'packed', sampleId, received: 1000 }, client);
    });
  } finally {
    // Nothing rests on what was stored for a task that ended meanwhile.
    await dropOriginals(database(), made);
  }
}

/** What a pack knows of a sample beside its entry: how it was made, and its stem set. */
async function restOf({ summary: { sampleId } }: SampleEntry): Promise<OwnRest> {
  const [made, set] = await Promise.all([readRecipe(sampleId), setOfAny(database(), [sampleId])]);
  if (set?.state !== 'joined') return { made, stemSet: null };
  const stems = await readSummaries(database(), set.sampleIds);
  const shaOf = (id: string | null) => stems.find((one) => one.sampleId === id)?.sha256 ?? null;
  return {
    made,
    stemSet: {
      ...{ name: set.name, stems: stems.map(({ sha256 }) => sha256) },
      ...{ gridFrom: shaOf(set.gridFrom), keyFrom: shaOf(set.keyFrom) },
    },
  };
}

/** Samples of a pack that are stems of one joined set with this one, itself among them; itself alone where there are none. */
async function stemsOf(entry: SampleEntry, lines: readonly { sampleId: string }[]): Promise<SampleEntry[]> {
  const { stemSet, sampleId } = entry.summary;
  if (stemSet?.state !== 'joined') return [entry];
  const rows = await readSummaries(
    database(),
    lines.map((line) => line.sampleId),
  );
  const stems = rows.filter((row) => row.stemSet?.state === 'joined' && row.stemSet.setId === stemSet.setId);
  return Promise.all(stems.map((row) => (row.sampleId === sampleId ? entry : readEntry(row.sampleId))));
}

type Keep = (original: StoredOriginal, madeBy: string, told?: Held['told']) => Held;

/** What a file is known again by: the same question always comes to the same bytes. */
const askedAs = (question: object) =>
  createHash('sha256')
    .update(JSON.stringify({ ...question, renderPlan: MAKING }))
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
    return { originalId, sha256, byteLength, madeBy: null, told: null };
  }
  const madeBy = askedAs({ tagged: sampleId, sequence });
  return onceOnly(madeBy, async () =>
    keep(await storeOriginal((await taggedCopy(sampleId)).bytes, Infinity), madeBy),
  );
}

/**
 * The sample at the pack's target, measured again; what that leaves as it is stays its own file. `stems`: those of its set in the pack,
 * which keep their balance.
 */
async function atTarget(
  entry: SampleEntry,
  stems: readonly SampleEntry[],
  { atTarget: target }: Pack,
  own: Held,
  keep: Keep,
  onProgress: (share: number) => void,
): Promise<Held> {
  if (!target || staysAsItIs(proposalOfRow(entry.summary, target))) return own;
  const recipeOf = (one: SampleEntry) => recipeAtTarget(one, target, { ...target, template: '{name}' });
  const recipe = recipeOf(entry);
  if (!recipe) throw new RecipeError('It is not measured yet.');
  const all = stems.length < 2 ? [] : stems.map((one) => (one === entry ? recipe : recipeOf(one)));
  const set = all.filter((one) => one !== null);
  const madeBy = askedAs({ of: bytesOf(recipe), set: set.map(bytesOf) });
  return onceOnly(madeBy, async () => {
    const wanted = set.length < 2 ? recipe : await inBalance(recipe, set, onProgress);
    const { file, planned, differences } = await renderedAndMeasured(wanted, onProgress);
    return keep(file.original, madeBy, { planned, differences });
  });
}

/** The click of a sample, as long as it is. */
async function click(entry: SampleEntry, keep: Keep, onProgress: (share: number) => void): Promise<Held> {
  const parent = parentOf(entry);
  if (!parent?.grid) throw new RecipeError('It has no grid for a click.');
  const format = 'wav 16';
  const recipe = recipeShape.parse({
    ...{ parent: { ...parent, hits: [] }, clickOnly: true, kind: 'loop', name: 'click' },
    write: { format },
  });
  const madeBy = bytesOf(recipe);
  return onceOnly(madeBy, async () => {
    const { bytes } = await renderedFile(recipe, onProgress);
    return keep(await storeOriginal(inOnePart(bytes), Infinity), madeBy);
  });
}

/** Files that are made of what is known of a sample. */
function* smallFiles(
  entry: SampleEntry,
  paths: PackPaths,
  rest: OwnRest,
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
  if (paths.own) yield [paths.own, json(ownOf(entry, rest))];
}
