import { UndecodableError } from '@/core/formats/audioFormat';
import { decodeAudio } from '@/core/formats/decode';
import { differencesOf, plannedOf, type Planned } from '@/core/recipes/differences';
import type { Made } from '@/core/recipes/compose';
import { making } from '@/core/recipes/make';
import { makingOf, RecipeError, type Making } from '@/core/recipes/making';
import { midiMade } from '@/core/recipes/midiMake';
import type { Recipe } from '@/core/library/recipe';
import { recipeWords } from '@/core/recipes/recipeWords';
import type { Reading } from '@/core/readings/reading';
import { beatsWithin } from '@/core/rhythm/grid';
import { resample, resampleRound } from '@/core/signal/resample';
import { addToStep } from '@/store/bulkSteps';
import { database, transaction } from '@/store/database';
import { writePrint } from '@/store/likenesses';
import { endItem, holdTask } from '@/store/longTasks';
import { announceSamples } from '@/store/notifications';
import { readOriginal, storeOriginal, type StoredOriginal } from '@/store/originalBytes';
import { madeAlready, writeRecipe } from '@/store/recipes';
import { insertSample, readSampleFile, type SampleFile } from '@/store/samples';
import type { TakenTask } from '@/store/tasks';
import { changeInside } from '../change';
import { detectorReadings } from '../detectorReadings';
import { readEntry } from '../entry';
import { inOnePart } from '../inOnePart';
import { encoded } from './encode';
import { findOut, recordFound, type Found } from './measure';

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
  const { write } = recipe;
  const { format } = write;
  if (format === 'midi') return renderMidi(task, position, recipe, onProgress);
  const { plan, made } = await follow(recipe, onProgress);
  const rate = write.sampleRate ?? plan.rate;
  const atRate = (channel: Float32Array) =>
    plan.turns ? resampleRound(channel, plan.rate, rate) : resample(channel, plan.rate, rate, 'fine');
  const channels = rate === plan.rate ? made.channels : made.channels.map(atRate);
  const frames = channels[0].length;
  const bars = plan.grid
    ? beatsWithin(plan.grid, 0, frames / rate)
        .filter(({ place }) => Math.abs(place) < 1e-6)
        .map(({ time, bar }) => ({ frame: Math.min(frames, Math.round(time * rate)), label: `Bar ${bar}` }))
    : [];
  const bytes = await encoded(channels, rate, format, { bars, turns: plan.turns });
  onProgress(SHARES.decoding + SHARES.making + SHARES.writing);
  const original = await storeOriginal(inOnePart(bytes), Infinity);
  const rest = 1 - SHARES.decoding - SHARES.making - SHARES.writing;
  const found = await findOut(original, { range: null, meter: null }, (_, share) =>
    onProgress(1 - rest * (1 - share)),
  );
  await keep(task, position, recipe, { original, found, plan, planned: plannedOf(plan, made, frames, rate) });
}

/** Makes a performance of a performance: notes, not their sound. */
async function renderMidi(
  task: TakenTask<'render'>,
  position: number,
  recipe: Recipe,
  onProgress: (share: number) => void,
): Promise<void> {
  const file = await parentFile(recipe);
  if (file.format !== 'midi')
    throw new RecipeError('It is no performance; its sound has no notes that could be written.');
  const parts: Uint8Array[] = [];
  for await (const part of readOriginal(file.originalId, 0, file.byteLength)) parts.push(part);
  const { bytes, plan } = midiMade(Buffer.concat(parts), recipe);
  const original = await storeOriginal(inOnePart(bytes), Infinity);
  const found = await findOut(original, { range: null, meter: null }, (_, share) => onProgress(share));
  const { durationSeconds } = found.measurement;
  // How long notes ring on is their instrument's.
  const planned = plannedOf(plan, NO_SOUND, Math.round(durationSeconds * plan.rate), plan.rate);
  // The file begins with a bar line: a pickup does not hang before it.
  await keep(task, position, recipe, { original, found, plan, planned });
}

const NO_SOUND: Made = { channels: [], rate: 0, quieterDb: 0, peak: 0 };

interface Kept {
  original: StoredOriginal;
  found: Found;
  plan: Making;
  planned: Planned;
}

/** Sample, recipe and comparison, all at once; nothing when the task is no longer theirs. */
async function keep(
  task: TakenTask<'render'>,
  position: number,
  recipe: Recipe,
  { original, found, plan, planned }: Kept,
): Promise<void> {
  const { curatorId, stepId, isSaved } = task.payload;
  const differences = differencesOf(planned, found.measurement);
  const parent = await readEntry(recipe.parent.sampleId);
  const { folder } = parent.summary;

  await transaction(async (client) => {
    if (!(await holdTask(client, task))) return;
    const sampleId = await insertSample(client, {
      ...{ originalId: original.originalId, name: recipe.name, folder, modifiedMs: null },
      parent: recipe.parent.sampleId,
    });
    await recordFound(client, sampleId, found);
    // It is like its parent, and that is no news: only whoever comes later is told of it.
    if (found.print) await writePrint(client, sampleId, found.print.words, found.print.chosen);
    await writeRecipe(client, sampleId, { recipe, planned, differences });
    const { settled } = parent;
    await changeInside(
      client,
      {
        do: 'derived',
        sampleId,
        measured: detectorReadings(found.measurement),
        planned: readingsOf(plan, recipe),
        state: {
          grid: plan.grid,
          key: plan.key ?? (settled.key && 'none' in settled.key ? settled.key : null),
          tuningCents: plan.tuningCents,
          kind: recipe.kind,
          ...{ tags: settled.tags, origin: settled.origin, licence: settled.licence },
          note: `Made from “${recipe.parent.name}”: ${recipeWords(recipe)}.${proofWords(recipe)}`,
        },
        words: `made from “${recipe.parent.name}”`,
        isSaved,
      },
      [sampleId],
      curatorId,
    );
    // Taken back, what was made goes into the bin.
    await addToStep(client, stepId, [{ sampleId, made: null, binned: false }]);
    await endItem(task, position, { outcome: 'made', sampleId, received: 1000 }, client);
    await announceSamples(client, [sampleId], 'measured');
  });
}

/** Decodes what a recipe reads of its parent, and follows it. */
async function follow(
  recipe: Recipe,
  onProgress: (share: number) => void,
): Promise<{ plan: Making; made: Made }> {
  const file = await parentFile(recipe);
  const { originalId, byteLength } =
    file.listeningId === null ? file : { originalId: file.listeningId, byteLength: file.listeningBytes! };
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

/** What the plan says of the result, as readings. */
function readingsOf({ grid, key, tuningCents }: Making, { parent }: Recipe): Reading[] {
  const source = { source: 'derived', sureness: 1, detail: `by the recipe, from “${parent.name}”` } as const;
  return [
    ...(grid
      ? [
          { property: 'tempo', value: grid.tempoBpm, ...source } as const,
          { property: 'one', value: grid.one, ...source } as const,
          { property: 'meter', value: grid.meter, ...source } as const,
        ]
      : []),
    ...(key ? [{ property: 'key', value: key, ...source } as const] : []),
    ...(tuningCents === null ? [] : [{ property: 'tuning', value: tuningCents, ...source } as const]),
  ];
}

/** A proof does not carry over; that there was one is said. */
const proofWords = ({ parent }: Recipe) =>
  parent.isProved
    ? ' The grid that it was made with was proved.'
    : ' The grid that it was made with was not proved.';
