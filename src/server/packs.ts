import type pg from 'pg';
import { emptyPack, MOST_IN_PACK, type Pack, pack, packOrder, type PackRow } from '@/contract/pack';
import { contentsOf, type PackedRow } from '@/library/packs/contents';
import { ordered } from '@/library/packs/orders';
import type { PackContents } from '@/library/packs/writing';
import { database } from '@/store/database';
import { makeTask } from '@/store/longTasks';
import { announceDocument } from '@/store/notifications';
import { listPacks, packStore, readPacked } from '@/store/packs';
import { beginWriting, readWritings, writingIsOf } from '@/store/packWritings';
import { log } from './log';
import { once } from './once';
import { documentCases } from './documents';
import { UserError } from './userError';

const cases = documentCases({
  ...{ kind: 'pack', store: packStore, state: pack, order: packOrder },
  ...{ ordered, empty: emptyPack },
});
export const { now: packNow, make: makePack, change: changePack, bin: binPack } = cases;

/** All packs, those changed last first. */
export const packsNow = (): Promise<PackRow[]> => listPacks();

const rowsOf = async ({ sampleIds }: Pack): Promise<Map<string, PackedRow>> =>
  new Map((await readPacked(database(), sampleIds)).map((row) => [row.sampleId, row]));

/** The samples of a pack as they are now, how far writing it has come, and what can be fetched. */
export async function packContents(packId: string): Promise<PackContents> {
  const { state } = await cases.now(packId);
  const [rows, writings] = await Promise.all([rowsOf(state), readWritings(database(), packId)]);
  return { rows: [...rows.values()], ...writings };
}

/** Puts the writing of a pack, as it is now, into the queue. Throws UserError where nothing of it can be written, or it is being written. */
export async function writePack(packId: string): Promise<{ taskId: number }> {
  const { state } = await cases.now(packId);
  const contents = contentsOf(state, await rowsOf(state));
  if (contents.length === 0) throw new UserError('This pack is empty.', 422);
  if (state.files === 'none' && !state.atTarget)
    throw new UserError('This pack would hold no audio: select files, a target, or both.', 422);
  const lines = contents.flatMap(({ sampleId, paths }) => (paths ? [{ sampleId, paths }] : []));
  if (lines.length === 0)
    throw new UserError(
      `Nothing can be written: ${(contents.find(({ row }) => row) ?? contents[0]).fault}`,
      422,
    );
  const items = contents.map(({ sampleId, row, paths, fault }) => ({
    name: row?.name ?? 'a deleted sample',
    folder: '',
    path: String(lines.findIndex((line) => paths !== null && line.sampleId === sampleId)),
    ...{ byteLength: 1000, modifiedMs: null },
    ...(fault && { fault }),
  }));
  const taskId = await once(async (client) => {
    await packStore.read(client, packId, { lock: true });
    const { last } = await readWritings(client, packId);
    if (last && ['waiting', 'running', 'paused'].includes(last.state))
      throw new UserError('This pack is being written; wait for it or cancel it first.', 409);
    const writingId = await beginWriting(client, packId, state);
    const words = `writing the pack “${state.name}”`;
    const seconds = contents.reduce((sum, { row }) => sum + (row?.durationSeconds ?? 0), 0);
    const made = await makeTask(client, 'pack', words, { writingId, state, lines }, items, seconds);
    await writingIsOf(client, writingId, made);
    await announceDocument(client, 'pack', packId);
    return made;
  });
  log.info({ event: 'pack is written', task: taskId, pack: packId, count: lines.length });
  return { taskId };
}

/**
 * Puts a sample that was just made into a pack, with what was made in the same go as one step. Nothing happens where the pack was thrown
 * away meanwhile, or is full: the sample is in the library all the same.
 */
export async function putMade(
  client: pg.PoolClient,
  {
    packId,
    sampleId,
    words,
    curatorId,
  }: { packId: string; sampleId: string; words: string; curatorId: string | null },
): Promise<void> {
  const kept = await packStore.read(client, packId, { lock: true });
  if (!kept || kept.state.sampleIds.length >= MOST_IN_PACK) return;
  const state = ordered(kept.state, { do: 'put', sampleIds: [sampleId] });
  if (kept.undo === words) await packStore.growState(client, kept, state);
  else await packStore.addState(client, kept, state, words, curatorId);
  await announceDocument(client, 'pack', packId);
}
