import { UndecodableError } from '@/core/formats/audioFormat';
import { decodeAudio } from '@/core/formats/decode';
import { differencesOf, plannedOf, type Planned } from '@/core/recipes/differences';
import type { Made } from '@/core/recipes/compose';
import { making } from '@/core/recipes/make';
import { makingOf, type Making } from '@/core/recipes/making';
import { RecipeError } from '@/core/recipes/recipeError';
import { midiMade } from '@/core/recipes/midiMake';
import type { AudioWriteFormat, Recipe } from '@/core/recipes/recipe';
import { recipeWords } from '@/core/recipes/recipeWords';
import { resample, resampleRound } from '@/core/signal/resample';
import { database } from '@/store/database';
import { endItem } from '@/store/longTasks';
import { readOriginal } from '@/store/originalBytes';
import { madeAlready, writeRecipe } from '@/store/recipes';
import { readSampleFile, type SampleFile } from '@/store/samples';
import type { TakenTask } from '@/store/tasks';
import { readEntry } from '../entry';
import { keepMade, measuredFile, written, type MadeFile } from './made';
import { listenedTo } from './wholeSample';

/** Shares of a render's time that its parts usually take. */
const SHARES = { decoding: 0.15, making: 0.55, writing: 0.1 } as const;
/** The longest stretch that is read at once, frames of all channels together. */
const MOST_READ = 600_000_000;

/**
 * Makes one derived sample as a recipe of a task says: decodes the parent, follows the recipe, writes the file, measures it anew and
 * compares it with the plan; then sample, recipe and comparison are there at once. Nothing is written when the task is no longer
 * theirs who hold its lease. `onProgress` gets the share done. Throws RecipeError and UndecodableError with a sentence for the user.
 */
export async function render(
  task: TakenTask<'render'>,
  position: number,
  recipe: Recipe,
  onProgress: (share: number) => void,
): Promise<void> {
  const before = await madeAlready(database(), recipe);
  if (before) {
    await endItem(task, position, { outcome: 'already here', sampleId: before, received: 0 });
    return;
  }
  const { format } = recipe.write;
  if (format === 'midi') return renderMidi(task, position, recipe, onProgress);
  const { bytes, plan, planned } = await renderedBytes(recipe, format, onProgress);
  const soFar = SHARES.decoding + SHARES.making + SHARES.writing;
  const file = await measuredFile(bytes, (share) => onProgress(soFar + (1 - soFar) * share));
  await keep(task, position, recipe, { file, plan, planned });
}

/** The file that a recipe comes to, with what was planned of it. `onProgress` gets a share that ends before measuring. */
export async function renderedBytes(
  recipe: Recipe,
  format: AudioWriteFormat,
  onProgress: (share: number) => void,
): Promise<{ bytes: Uint8Array; plan: Making; planned: Planned }> {
  const { plan, made } = await follow(recipe, onProgress);
  const rate = recipe.write.sampleRate ?? plan.rate;
  const atRate = (channel: Float32Array) =>
    plan.turns ? resampleRound(channel, plan.rate, rate) : resample(channel, plan.rate, rate, 'fine');
  const channels = rate === plan.rate ? made.channels : made.channels.map(atRate);
  const frames = channels[0].length;
  const bytes = await written({ channels, rate, format, grid: plan.grid, turns: plan.turns });
  return { bytes, plan, planned: plannedOf(plan, made, frames, rate) };
}

/** Makes a performance of a performance: notes, not their sound. */
async function renderMidi(
  task: TakenTask<'render'>,
  position: number,
  recipe: Recipe,
  onProgress: (share: number) => void,
): Promise<void> {
  const parent = await parentFile(recipe);
  if (parent.format !== 'midi')
    throw new RecipeError('It is no performance; its sound has no notes that could be written.');
  const parts: Uint8Array[] = [];
  for await (const part of readOriginal(parent.originalId, 0, parent.byteLength)) parts.push(part);
  const { bytes, plan } = midiMade(Buffer.concat(parts), recipe);
  const file = await measuredFile(bytes, onProgress);
  const { durationSeconds } = file.found.measurement;
  // How long notes ring on is their instrument's.
  const planned = plannedOf(plan, NO_SOUND, Math.round(durationSeconds * plan.rate), plan.rate);
  // The file begins with a bar line: a pickup does not hang before it.
  await keep(task, position, recipe, { file, plan, planned });
}

const NO_SOUND: Made = { channels: [], rate: 0, quieterDb: 0, peak: 0 };

interface Kept {
  file: MadeFile;
  plan: Making;
  planned: Planned;
}

async function keep(
  task: TakenTask<'render'>,
  position: number,
  recipe: Recipe,
  { file, plan, planned }: Kept,
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
      note: `Made from “${name}”: ${recipeWords(recipe)}.${proofWords(recipe)}`,
    },
    words: `made from “${name}”`,
    writeHow: (client, sampleId) =>
      writeRecipe(client, sampleId, {
        ...{ recipe, planned, differences: differencesOf(planned, file.found.measurement) },
      }),
  });
}

/** Decodes what a recipe reads of its parent, and follows it. */
async function follow(
  recipe: Recipe,
  onProgress: (share: number) => void,
): Promise<{ plan: Making; made: Made }> {
  const file = await parentFile(recipe);
  const { originalId, byteLength } = listenedTo(file);
  let plan: Making | null = null;
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
      plan = makingOf(recipe, Math.round(recipe.parent.durationSeconds * rate), rate);
      if (plan.size * block.length > MOST_READ)
        throw new RecipeError('The stretch is too long to be made at once; choose fewer bars.');
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
  const wanted = plan as Making | null;
  if (!wanted) throw new UndecodableError('No audio could be decoded from the sample that it is made from.');
  // A few frames less than its length says are the rounding of that length.
  const missing =
    Math.min(wanted.first + wanted.size, Math.round(recipe.parent.durationSeconds * decoded.sampleRate)) - at;
  if (missing > 64)
    throw new RecipeError(
      `The sample that it is made from cannot be decoded to where it is read: ${(missing / decoded.sampleRate).toFixed(2)} s are missing.`,
    );
  const steps = making(source, wanted, recipe);
  for (;;) {
    const { done, value } = steps.next();
    if (done) return { plan: wanted, made: value as Made };
    const { made } = value as { made: number };
    onProgress(SHARES.decoding + (SHARES.making * made) / wanted.fitting.length);
  }
}

/** Where the bytes of a recipe's parent are. Throws RecipeError where they are not those that it was written for. */
async function parentFile({ parent }: Recipe): Promise<SampleFile> {
  const file = await readSampleFile(database(), parent.sampleId);
  if (!file) throw new RecipeError('The sample that it is made from is not there any more.');
  if (file.sha256 !== parent.sha256)
    throw new RecipeError('The sample that it is made from has other bytes now; make the recipe anew.');
  return file;
}

/** A proof does not carry over; that there was one is said. */
const proofWords = ({ parent }: Recipe) =>
  parent.isProved
    ? ' The grid that it was made with was proved.'
    : ' The grid that it was made with was not proved.';
