import { decodeAudio } from '@/core/formats/decode';
import { recipe, FORMATS, type Recipe, type RecipeInput } from '@/core/recipes/recipe';
import { named, parentOf, recipeAtTarget, USUAL_NAME } from '@/library/recipes/aims';
import { ALL_KEYS } from '@/core/harmony/keyNames';
import { readMidi } from '@/core/formats/midi';
import { bulkStepsNow, doInBulk, undoBulk } from '@/server/change/bulk';
import { ANYBODY } from '@/server/change';
import { browseIntake, browseShelf } from '@/server/browse';
import { readEntry } from '@/server/entry';
import { familyOf, makeAtTarget, makeRenders } from '@/server/renders';
import { tasksNow } from '@/server/tasks';
import { closeDatabase, database } from '@/store/database';
import { readOriginal, verifyOriginal } from '@/store/originalBytes';
import { listWaveChunks } from '@/core/formats/waveChunks';
import { byteReader } from '@/core/formats/byteReader';
import { inBlocks } from '../support/bytes';
import { rehearsalPiano } from '@/demo/performance';
import { drumFile } from '../support/files';
import { askNow, bring, measureAll, emptyLibrary, measuredLoop, renderAll } from '../support/library';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

/** Whatever was made of a sample, newest last. */
const made = async (parent: string) =>
  Promise.all((await familyOf(parent)).children.map(({ sampleId }) => readEntry(sampleId)));

async function bytesOf(sampleId: string): Promise<Uint8Array> {
  const { rows } = await database().query(
    'select o.original_id as id, o.byte_length as length from samples join originals o using (original_id) where sample_id = $1',
    [sampleId],
  );
  const parts: Uint8Array[] = [];
  for await (const part of readOriginal(rows[0].id, 0, rows[0].length)) parts.push(part);
  expect(await verifyOriginal(rows[0].id)).toBe(true);
  return Buffer.concat(parts);
}

async function pcmOf(bytes: Uint8Array) {
  const blocks: Float32Array[][] = [];
  const audio = await decodeAudio(
    () => inBlocks(bytes),
    (block) => void blocks.push(block.map((one) => one.slice())),
  );
  return { ...audio, left: Float32Array.from(blocks.flatMap(([left]) => [...left])) };
}

async function recipeFor(sampleId: string, wanted: Partial<RecipeInput>): Promise<Recipe> {
  const entry = await readEntry(sampleId);
  return named({ parent: parentOf(entry)!, kind: 'loop', ...wanted }, entry, USUAL_NAME);
}

const BARS_2_AND_3 = { from: 4, to: 12 };

test('a cut becomes a sample of its own, with parent, recipe, grid and tags by the plan, and proves itself', async () => {
  const parent = await measuredLoop();
  await askNow(parent, {
    do: 'settle',
    words: 'tagged',
    patch: { tags: [{ facet: 'part', value: 'drums' }], origin: 'the loft', licence: 'free' },
  });
  const before = await readEntry(parent);
  const wanted = await recipeFor(parent, { region: BARS_2_AND_3 });
  await makeRenders({ recipes: [wanted] }, ANYBODY);
  expect(await made(parent)).toEqual([]);
  await renderAll();
  const [cut, ...more] = await made(parent);
  expect(more).toEqual([]);
  expect(cut.summary).toMatchObject({
    ...{ name: 'loop 100 bpm.wav', kind: 'loop', standing: 'measured', proof: null, bars: 2 },
    parent: { sampleId: parent, name: 'loop.wav' },
    sampleRate: 44_100,
  });
  expect(cut.settled).toMatchObject({
    ...{ origin: 'the loft', licence: 'free', tags: before.settled.tags },
    grid: { tempoBpm: expect.closeTo(before.settled.grid!.tempoBpm, 2), one: 0, movingBeats: null },
  });
  const tempo = cut.readings.find(({ readingId }) => readingId === cut.settled.chosen.tempo);
  expect(tempo).toMatchObject({ source: 'derived', sureness: 1 });
  const { made: kept, siblings } = await familyOf(cut.summary.sampleId);
  expect(kept).toMatchObject({ words: 'bars 2 to 3, WAV 24', isParentChanged: false });
  expect(kept!.differences.faults).toEqual([]);
  expect(kept!.differences.frames.written).toBe(kept!.planned.frames);
  expect(Math.abs(kept!.differences.hits!.usualMs)).toBeLessThan(0.5);
  expect(siblings).toEqual([]);
  // The samples of the parent, to the bit that 24 of them hold, and marks at its bars.
  const bytes = await bytesOf(cut.summary.sampleId);
  const [of, from] = [await pcmOf(bytes), await pcmOf(await bytesOf(parent))];
  const first = Math.round((before.settled.grid!.one + 4 * (60 / before.settled.grid!.tempoBpm)) * 44_100);
  expect(of.left.every((value, n) => Math.abs(value - from.left[first + n]) < 2 ** -22)).toBe(true);
  const chunks = await listWaveChunks(byteReader(inBlocks(bytes)));
  expect(chunks.map(({ id }) => id)).toEqual(['fmt ', 'data', 'id3 ', 'LIST', 'smpl', 'cue ', 'LIST']);
  // The parent is what it was, to the byte; and nothing calls the cut a copy of it.
  expect((await readEntry(parent)).summary).toEqual(before.summary);
  expect([...cut.summary.doubts, ...cut.summary.todos].map(({ code }) => code)).not.toContain('alike');
});

test('at targets: six of them measure what was planned', async () => {
  const parent = await measuredLoop();
  const entry = await readEntry(parent);
  const tempi = [84, 92.5, 101.3, 112, 118.75, 140];
  const writing = { format: 'wav 24', sampleRate: null, template: '{name} {number}' } as const;
  const recipes = tempi.map((tempoBpm, i) => ({
    ...recipeAtTarget(entry, { tempoBpm, key: ALL_KEYS[4 * i], isTape: false }, writing)!,
    name: `${i}.wav`,
  }));
  await makeRenders({ recipes, isSaved: true }, ANYBODY);
  await renderAll();
  const all = await made(parent);
  expect(all).toHaveLength(6);
  for (const one of all) {
    const { made: kept } = await familyOf(one.summary.sampleId);
    const { tempo, frames, hits, faults } = kept!.differences;
    expect(faults).toEqual([]);
    expect(frames.written).toBe(frames.planned);
    expect(Math.abs(tempo!.measured / tempo!.planned - 1)).toBeLessThan(1e-4);
    expect(hits!.found).toBeGreaterThan(0.9 * hits!.of);
    expect(one.summary.standing).toBe('saved');
  }
  const shelf = await browseShelf(new URLSearchParams('made=derived'));
  expect(shelf.total).toBe(6);
  expect((await browseShelf(new URLSearchParams({ parent }))).total).toBe(6);
  // In one go undone: they lie in the bin, the parent does not.
  await undoBulk((await bulkStepsNow()).undo!.stepId, ANYBODY);
  expect((await browseShelf(new URLSearchParams('made=derived'))).total).toBe(0);
  expect((await browseIntake(new URLSearchParams('show=bin'))).total).toBe(6);
  expect((await readEntry(parent)).summary.standing).toBe('measured');
});

test.each(FORMATS.filter((format) => format !== 'midi'))('%s says what it holds', async (format) => {
  const parent = await measuredLoop();
  const rates = { ...(format === 'wav 16' ? { sampleRate: 48_000 } : {}) };
  const wanted = await recipeFor(parent, { region: BARS_2_AND_3, write: { format, ...rates } });
  expect(wanted.name).toBe(`loop 100 bpm.${format.slice(0, format.indexOf(' '))}`);
  await makeRenders({ recipes: [wanted] }, ANYBODY);
  await renderAll();
  const [one] = await made(parent);
  const pcm = await pcmOf(await bytesOf(one.summary.sampleId));
  const rate = rates.sampleRate ?? 44_100;
  expect(pcm.sampleRate).toBe(rate);
  expect(pcm.frames).toBe(Math.round((8 * 60 * rate) / one.settled.grid!.tempoBpm));
  const bits = format.endsWith('16') ? 16 : 24;
  if (format !== 'wav 32 float')
    expect(pcm.left.every((value) => Number.isInteger(value * 2 ** (bits - 1)))).toBe(true);
  expect((await familyOf(one.summary.sampleId)).made!.differences.faults).toEqual([]);
});

test('samples are made at a target by their numbers solo; what stays as it is is counted', async () => {
  const ids = [await measuredLoop('one.wav', 3), await measuredLoop('two.wav', 4)];
  const target = { tempoBpm: 91, key: null, format: 'wav 16' } as const;
  const answer = await makeAtTarget({ sampleIds: ids, target, template: '{name} {bpm}' }, ANYBODY);
  expect(answer).toMatchObject({ made: 2, stays: 0 });
  await renderAll();
  const { children } = await familyOf(ids[0]);
  expect(children.map(({ name }) => name)).toEqual(['one 91.wav']);
  const { sampleId } = await bring('not measured.wav', drumFile({ bpm: 90, bars: 1, seed: 9 }));
  const again = await makeAtTarget({ sampleIds: [sampleId], target, template: '{name}' }, ANYBODY);
  expect(again).toEqual({ taskId: null, made: 0, stays: 1 });
});

test('the same recipe twice makes one sample; another makes one beside it', async () => {
  const parent = await measuredLoop();
  const wanted = await recipeFor(parent, { region: BARS_2_AND_3 });
  await makeRenders({ recipes: [wanted] }, ANYBODY);
  await makeRenders({ recipes: [wanted, { ...wanted, pitch: { ...wanted.pitch, semitones: 2 } }] }, ANYBODY);
  await renderAll();
  const all = await made(parent);
  expect(all).toHaveLength(2);
  // Whoever bins the parent is told how many stay.
  const target = { sampleId: parent, base: null };
  const binned = await doInBulk({ order: { do: 'bin' }, targets: [target] }, ANYBODY);
  expect(binned).toMatchObject({ done: 1, hanging: { made: 2, blends: 0 } });
  const { siblings } = await familyOf(all[0].summary.sampleId);
  expect(siblings).toEqual([
    {
      sampleId: all[1].summary.sampleId,
      name: all[1].summary.name,
      binned: false,
      words: expect.stringContaining('+2 semitones'),
    },
  ]);
});

test('what cannot be followed is refused with its name and reason, before anything is made', async () => {
  const parent = await measuredLoop();
  const good = await recipeFor(parent, { region: BARS_2_AND_3 });
  const bad = await recipeFor(parent, { region: { from: 8, to: 99 } });
  await expect(makeRenders({ recipes: [good, bad] }, ANYBODY)).rejects.toThrow(
    /loop 100 bpm.wav”: The stretch goes over the end/,
  );
  expect((await tasksNow()).tasks).toEqual([]);
  expect(() => recipe.parse({ ...good, write: { format: 'mp3' } })).toThrow();
});

test('a parent that was settled again since keeps the recipe’s grid, and that is said', async () => {
  const parent = await measuredLoop();
  const wanted = await recipeFor(parent, { region: BARS_2_AND_3 });
  const { grid } = (await readEntry(parent)).settled;
  await makeRenders({ recipes: [wanted] }, ANYBODY);
  await askNow(parent, { do: 'settle', words: 'half', patch: { grid: { ...grid!, tempoBpm: 50 } } });
  await renderAll();
  const [one] = await made(parent);
  expect(one.settled.grid!.tempoBpm).toBeCloseTo(100, 1);
  expect((await familyOf(one.summary.sampleId)).made!.isParentChanged).toBe(true);
});

test('a performance is quantized: notes on the beats of its grid, beside the one that was played', async () => {
  const { sampleId } = await bring('Played.mid', rehearsalPiano().bytes);
  await measureAll();
  const entry = await readEntry(sampleId);
  const wanted = named(
    {
      parent: parentOf(entry)!,
      kind: 'midi',
      hits: { pull: 1, parts: 2 },
      time: { tempoBpm: 100, even: 'beat' },
      write: { format: 'midi' },
    },
    entry,
    '{name} squared up',
  );
  await makeRenders({ recipes: [wanted] }, ANYBODY);
  await renderAll();
  const [one] = await made(sampleId);
  expect(one.summary).toMatchObject({ name: 'Played squared up.mid', format: 'midi', kind: 'midi' });
  const { notes, claims } = readMidi(await bytesOf(one.summary.sampleId));
  expect(claims.bpm).toBe(100);
  for (const { time } of notes) {
    const half = time / 0.3;
    expect(Math.abs(half - Math.round(half))).toBeLessThan(0.01);
  }
  expect(one.settled.grid!.tempoBpm).toBeCloseTo(100, 6);
  // An audio file has no notes.
  const loop = await measuredLoop();
  await makeRenders({ recipes: [await recipeFor(loop, { write: { format: 'midi' } })] }, ANYBODY);
  await renderAll();
  expect((await tasksNow()).tasks[0].faults[0].fault).toMatch('there are no notes to write');
});
