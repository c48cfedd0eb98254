import { createHash } from 'node:crypto';
import { UndecodableError } from '@/core/formats/audioFormat';
import { decodeAudio } from '@/core/formats/decode';
import { differencesOf, plannedOf, type Differences, type Planned } from '@/core/recipes/differences';
import { composed, type Made } from '@/core/recipes/compose';
import { renderPlan } from '@/core/recipes/make';
import { renderPlanOf, type RenderPlan } from '@/core/recipes/renderPlan';
import { RecipeError } from '@/core/recipes/recipeError';
import { midiMade } from '@/core/recipes/midiMake';
import type { Recipe } from '@/core/recipes/recipe';
import { recipeWords } from '@/core/recipes/recipeWords';
import { openTagsOf } from '@/library/samples/openTags';
import { resample, resampleLoop } from '@/core/signal/resample';
import { database } from '@/store/database';
import { endItem, madeOfTask } from '@/store/longTasks';
import { readOriginal } from '@/store/originalBytes';
import { madeAlready, writeRecipe } from '@/store/recipes';
import { readSampleFile, type SampleFile } from '@/store/samples';
import type { TakenTask } from '@/store/tasks';
import { readEntry } from '../entry';
import { joinMade } from '../stemSets';
import { keepMade, measuredFile, written, type MadeFile } from './made';
import { listenedTo } from './wholeSample';

/** Shares of a render's time that its parts usually take. */
const SHARES = { decoding: 0.15, renderPlan: 0.55, writing: 0.1 } as const;
/** The longest stretch that is read at once, frames of all channels together. */
const MOST_READ = 600_000_000;

/**
 * Makes one derived sample as a recipe of a task says: decodes the parent, follows the recipe, writes the file, measures it again and
 * compares it with the plan; then sample, recipe and comparison are there at once. Nothing is written when the task is no longer
 * theirs who hold its lease. `onProgress` gets the share done. Throws RecipeError and UndecodableError with a sentence for the user.
 */
export async function render(
  task: TakenTask<'render'>,
  position: number,
  index: number,
  onProgress: (share: number) => void,
): Promise<void> {
  const { recipes, sets } = task.payload;
  const set = sets.find((one) => one.recipes.includes(index));
  const recipe = set
    ? await inBalance(
        recipes[index],
        set.recipes.map((i) => recipes[i]),
        onProgress,
      )
    : recipes[index];
  const before = await madeAlready(database(), recipe);
  if (before) {
    await endItem(task, position, { outcome: 'already here', sampleId: before, received: 0 });
    return;
  }
  await keep(task, position, recipe, await renderedAndMeasured(recipe, onProgress));
}

/** What a recipe came to: its file, stored and measured again, and how far it is from the plan. */
interface Rendered {
  file: MadeFile;
  plan: RenderPlan;
  planned: Planned;
  differences: Differences;
}

/** Follows a recipe, stores its file, and measures it against the plan. Throws RecipeError and UndecodableError. */
export async function renderedAndMeasured(
  recipe: Recipe,
  onProgress: (share: number) => void,
): Promise<Rendered> {
  const { bytes, plan, planned } = await renderedFile(recipe, onProgress);
  const soFar = SHARES.decoding + SHARES.renderPlan + SHARES.writing;
  const file = await measuredFile(bytes, (share) => onProgress(soFar + (1 - soFar) * share));
  const { measurement } = file.found;
  // How long notes ring on is their instrument's.
  const frames =
    recipe.write.format === 'midi' ? Math.round(measurement.durationSeconds * plan.rate) : planned.frames;
  const told = { ...planned, frames };
  return { file, plan, planned: told, differences: differencesOf(told, measurement) };
}

/** What is left to do when all of a task is made: stems of one piece become a stem set. Done again, it changes nothing. */
export async function finishRender({ taskId, payload }: TakenTask<'render'>): Promise<void> {
  const { sets, curatorId } = payload;
  if (sets.length === 0) return;
  const made = new Map(
    (await madeOfTask(database(), taskId)).map(({ path, sampleId }) => [Number(path), sampleId]),
  );
  for (const { name, recipes } of sets)
    await joinMade(
      recipes.flatMap((index) => made.get(index) ?? []),
      name,
      curatorId,
    );
}

/** The file that a recipe comes to. */
interface RenderedFile {
  bytes: Uint8Array;
  plan: RenderPlan;
  planned: Planned;
}

/** The file that a recipe comes to, with what was planned of it. `onProgress` gets a share that ends before measuring. */
export async function renderedFile(
  recipe: Recipe,
  onProgress: (share: number) => void,
): Promise<RenderedFile> {
  const { format } = recipe.write;
  if (format === 'midi') return renderedNotes(recipe);
  const { plan, made } = await follow(recipe, onProgress);
  const rate = recipe.write.sampleRate ?? plan.rate;
  const atRate = (channel: Float32Array) =>
    plan.turns ? resampleLoop(channel, plan.rate, rate) : resample(channel, plan.rate, rate, 'fine');
  const channels = rate === plan.rate ? made.channels : made.channels.map(atRate);
  const frames = channels[0].length;
  const tags = openTagsOf({
    ...{ kind: recipe.kind, grid: plan.grid, key: plan.key, isUnpitched: plan.key === null, chord: null },
    ...{ tags: [], note: `rendered from “${recipe.parent.name}”: ${recipeWords(recipe)}` },
  });
  const bytes = await written({ channels, rate, format, grid: plan.grid, turns: plan.turns, tags });
  return { bytes, plan, planned: plannedOf(plan, made, frames, rate) };
}

/** A performance of a performance: notes, not their sound. */
async function renderedNotes(recipe: Recipe): Promise<RenderedFile> {
  const parent = await parentFile(recipe);
  if (parent.format !== 'midi')
    throw new RecipeError('It is not a MIDI performance; there are no notes to write.');
  const parts: Uint8Array[] = [];
  for await (const part of readOriginal(parent.originalId, 0, parent.byteLength)) parts.push(part);
  const { bytes, plan } = midiMade(Buffer.concat(parts), recipe);
  // The file begins with a bar line: a pickup does not hang before it.
  return { bytes, plan, planned: plannedOf(plan, NO_SOUND, plan.length, plan.rate) };
}

/** How much quieter stems are made, by what they are made from: the stems of a set follow each other. */
const balances = new Map<string, number>();
const MOST_BALANCES = 50;

/**
 * A recipe of a stem with by how much all stems of its set are made quieter: as much as the loudest of them takes. Each is made once
 * to know that.
 */
export async function inBalance(
  recipe: Recipe,
  all: readonly Recipe[],
  onProgress: (share: number) => void,
): Promise<Recipe> {
  const sounding = all.filter(({ write }) => write.format !== 'midi' && write.format !== 'wav 32 float');
  if (!sounding.includes(recipe)) return recipe;
  const name = createHash('sha256').update(JSON.stringify(sounding)).digest('hex');
  let setDb = balances.get(name);
  if (setDb === undefined) {
    setDb = 0;
    for (const one of sounding) setDb = Math.max(setDb, (await follow(one, onProgress)).made.quieterDb);
    balances.set(name, setDb);
    if (balances.size > MOST_BALANCES) balances.delete(balances.keys().next().value!);
  }
  return setDb === 0 ? recipe : { ...recipe, write: { ...recipe.write, setDb } };
}

/** The rate of a click where none is asked for. */
const CLICK_RATE = 44_100;

const NO_SOUND: Made = { channels: [], rate: 0, quieterDb: 0, peak: 0 };

async function keep(
  task: TakenTask<'render'>,
  position: number,
  recipe: Recipe,
  { file, plan, planned, differences }: Rendered,
): Promise<void> {
  const { sampleId: parent, name } = recipe.parent;
  const { summary, settled } = await readEntry(parent);
  const { grid, key, tuningCents } = plan;
  await keepMade(task, position, {
    ...file,
    ...{ name: recipe.name, folder: summary.folder, parent },
    planned: { grid, key, tuningCents, detail: `by the recipe, from “${name}”` },
    state: {
      ...{ grid, tuningCents, kind: recipe.kind },
      key: key ?? (settled.key && 'none' in settled.key ? settled.key : null),
      ...{ tags: settled.tags, origin: settled.origin, licence: settled.licence },
      note: `Rendered from “${name}”: ${recipeWords(recipe)}.${proofWords(recipe)}`,
    },
    words: `rendered from “${name}”`,
    writeHow: (client, sampleId) =>
      writeRecipe(client, sampleId, {
        ...{ recipe, planned, differences },
      }),
  });
}

/** Decodes what a recipe reads of its parent, and follows it. */
async function follow(
  recipe: Recipe,
  onProgress: (share: number) => void,
): Promise<{ plan: RenderPlan; made: Made }> {
  if (recipe.clickOnly) return clickAlone(recipe);
  const file = await parentFile(recipe);
  const { originalId, byteLength } = listenedTo(file);
  let plan: RenderPlan | null = null;
  let source: Float32Array[] = [];
  let at = 0;
  let read = 0;
  async function* bytes() {
    for await (const part of readOriginal(originalId, 0, byteLength)) {
      read += part.length;
      yield part;
      onProgress((SHARES.decoding * read) / byteLength);
    }
  }
  const decoded = await decodeAudio(bytes, (block, rate) => {
    if (!plan) {
      plan = renderPlanOf(recipe, Math.round(recipe.parent.durationSeconds * rate), rate);
      if (plan.size * block.length > MOST_READ)
        throw new RecipeError('The range is too long to render; select fewer bars.');
      source = block.map(() => new Float32Array(plan!.size));
    }
    const { first, size } = plan;
    block.forEach((channel, c) => {
      const from = Math.max(0, first - at);
      const to = Math.min(channel.length, first + size - at);
      if (to > from) source[c].set(channel.subarray(from, to), at + from - first);
    });
    at += block[0].length;
  });
  const wanted = plan as RenderPlan | null;
  if (!wanted) throw new UndecodableError('No audio could be decoded from its parent.');
  // A few frames less than its length says are the rounding of that length.
  const missing =
    Math.min(wanted.first + wanted.size, Math.round(recipe.parent.durationSeconds * decoded.sampleRate)) - at;
  if (missing > 64)
    throw new RecipeError(
      `Its parent cannot be decoded completely: ${(missing / decoded.sampleRate).toFixed(2)} s are missing.`,
    );
  const steps = renderPlan(source, wanted, recipe);
  for (;;) {
    const { done, value } = steps.next();
    if (done) return { plan: wanted, made: value as Made };
    const { made } = value as { made: number };
    onProgress(SHARES.decoding + (SHARES.renderPlan * made) / wanted.timeStretch.length);
  }
}

/** A click alone needs nothing of its parent's sound: it is one channel, as long as the result. */
function clickAlone(recipe: Recipe): { plan: RenderPlan; made: Made } {
  const rate = recipe.write.sampleRate ?? CLICK_RATE;
  const plan = renderPlanOf(recipe, Math.round(recipe.parent.durationSeconds * rate), rate);
  return { plan, made: composed([new Float32Array(plan.timeStretch.length)], plan, recipe) };
}

/** Where the bytes of a recipe's parent are. Throws RecipeError where they are not those that it was written for. */
async function parentFile({ parent }: Recipe): Promise<SampleFile> {
  const file = await readSampleFile(database(), parent.sampleId);
  if (!file) throw new RecipeError('Its parent has been deleted.');
  if (file.sha256 !== parent.sha256)
    throw new RecipeError('Its parent’s file has changed; create the recipe again.');
  return file;
}

/** A proof does not carry over; that there was one is said. */
const proofWords = ({ parent }: Recipe) =>
  parent.isProved ? ' The parent’s grid was proved.' : ' The parent’s grid was not proved.';
