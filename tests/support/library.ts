import { holdRunner, takeTask } from '@/store/tasks';
import { database, databaseUrl } from '@/store/database';
import { bring as bringTask } from '@/server/tasks/bring';
import { measure } from '@/server/tasks/measure';
import { BRINGING_KINDS } from '@/contract/tasks';
import { eachItem } from '@/server/tasks/items';
import { finishMix, mix } from '@/server/tasks/mix';
import { packSample } from '@/server/tasks/pack';
import { finishRender, render } from '@/server/tasks/render';
import type { TakenTask } from '@/store/tasks';
import { ANYBODY, changeSample, type Actor } from '@/server/change';
import { doInBulk } from '@/server/change/bulk';
import { curatorNamed } from '@/server/curators';
import { readEntry } from '@/server/entry';
import { takeIn } from '@/server/takeIn';
import { sampleRequest, type BulkAction, type SampleRequest } from '@/contract/orders';
import pg from 'pg';
import { inBlocks } from './bytes';
import { drumFile } from './files';

/** Empties every table. */
export async function emptyLibrary(): Promise<void> {
  await database().query(
    `truncate originals, samples, revisions, readings, proofs, tasks, settings, stem_sets, bulk_steps, places, words, curators, searches, blends, packs, pack_notes, heard, sent_changes, measuring_counts
     restart identity cascade;
     insert into curators (name, initials, named) values ('Curator', 'C', false)`,
  );
}

/** Takes bytes in under a name, through the same door as an upload. */
export async function bring(name: string, bytes: Uint8Array, folder = '') {
  const taken = await takeIn({
    name,
    folder,
    byteLength: bytes.length,
    modifiedMs: null,
    from: 0,
    bytes: inBlocks(bytes),
  });
  if (taken.sampleId === null) throw new Error(`“${name}” is an archive`);
  return { ...taken, sampleId: taken.sampleId };
}

/** Measures everything that waits, in this process. */
export async function measureAll(): Promise<void> {
  const client = new pg.Client({ connectionString: databaseUrl() });
  await client.connect();
  try {
    const runner = await holdRunner(client);
    for (let task = await takeTask(runner, ['measure']); task; task = await takeTask(runner, ['measure']))
      await measure(task, () => {});
  } finally {
    await client.end();
  }
}

/** Brings in what long tasks wait for, in this process. */
export async function bringAll(): Promise<void> {
  for (let task = await takeTask(1, BRINGING_KINDS); task; task = await takeTask(1, BRINGING_KINDS))
    await bringTask(task, new AbortController().signal);
}

const never = new AbortController().signal;

/** Makes all derived samples that wait, in this process; returns the tasks. */
export async function renderAll(): Promise<TakenTask<'render'>[]> {
  const tasks: TakenTask<'render'>[] = [];
  for (let task = await takeTask(1, ['render']); task; task = await takeTask(1, ['render'])) {
    const taken = task;
    await eachItem(
      task,
      never,
      (item) => render(taken, item.position, Number(item.path), () => {}),
      () => finishRender(taken),
    );
    tasks.push(task);
  }
  return tasks;
}

/** Makes everything that waits of blends, in this process. */
export async function mixAll(): Promise<void> {
  for (let task = await takeTask(1, ['mix']); task; task = await takeTask(1, ['mix'])) {
    const taken = task;
    await eachItem(
      task,
      never,
      (item) => mix(taken, item.position, Number(item.path), () => {}),
      () => finishMix(taken),
    );
  }
}

/** Writes all packs that wait, in this process. */
export async function packAll(): Promise<void> {
  for (let task = await takeTask(1, ['pack']); task; task = await takeTask(1, ['pack'])) {
    const taken = task;
    await eachItem(task, never, (item) => packSample(taken, item.position, Number(item.path), () => {}));
  }
}

/** A measured drum loop: 100 BPM, four bars, the one at 0.2 s. */
export async function measuredLoop(name = 'loop.wav', seed = 5): Promise<string> {
  const { sampleId } = await bring(name, drumFile({ bpm: 100, bars: 4, one: 0.2, seed }));
  await measureAll();
  return sampleId;
}

type OrderIn = SampleRequest['order'];

/** Asks for a change of one sample as its page does: `base` is the revision that was seen. */
export async function ask(sampleId: string, base: number | null, order: OrderIn, actor: Actor = ANYBODY) {
  const request = sampleRequest.parse({ base, order });
  return changeSample(request.order, { sampleId, base: request.base }, actor);
}

/** … based on the present revision. */
export async function askNow(sampleId: string, order: OrderIn, actor: Actor = ANYBODY) {
  return ask(sampleId, (await readEntry(sampleId)).sequence, order, actor);
}

type Settling = Omit<Extract<OrderIn, { do: 'settle' }>, 'do'>;

/** Settles parts of a sample's state, based on the revision `base`. */
export const settle = (
  sampleId: string,
  { base, ...rest }: Settling & { base: number | null },
  actor: Actor = ANYBODY,
) => ask(sampleId, base, { do: 'settle', ...rest }, actor);

export const step = (sampleId: string, way: 'undo' | 'redo', actor: Actor = ANYBODY) =>
  askNow(sampleId, { do: way }, actor);

export const setSaved = (sampleId: string, saved: boolean) =>
  askNow(sampleId, { do: saved ? 'save' : 'unsave' });

export const setInBin = (sampleId: string, inBin: boolean) =>
  askNow(sampleId, { do: inBin ? 'bin' : 'restore' });

/** Does one thing to samples, whatever revision they have. */
export const inBulk = (order: BulkAction, sampleIds: readonly string[], actor: Actor = ANYBODY) =>
  doInBulk({ order, targets: sampleIds.map((sampleId) => ({ sampleId, base: null })) }, actor);

type Proving = Omit<Extract<OrderIn, { do: 'prove' }>, 'do'>;

/** Signs a check against the click under a name. */
export async function prove(
  sampleId: string,
  { base, signedBy, ...proof }: Proving & { base: number | null; signedBy: string },
) {
  const { curatorId } = await curatorNamed({ name: signedBy });
  return ask(sampleId, base, { do: 'prove', ...proof }, curatorId);
}
