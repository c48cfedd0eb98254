import { isDeepStrictEqual } from 'node:util';
import type pg from 'pg';
import { keyLabel } from '@/core/harmony/keyNames';
import type { StoredReading } from '@/core/library/entry';
import { stemSetChange, type StemSet } from '@/core/library/intake';
import type { SettledState } from '@/core/library/settled';
import type { Property } from '@/core/readings/reading';
import { sameGrid } from '@/core/rhythm/grid';
import { findStemSets, onsetEnvelope } from '@/core/stems/stemSets';
import { rankForGrid, rankForKey } from '@/core/stems/rankStems';
import { gridReadings, keyReadings, type SpeakingStem } from '@/core/stems/setReadings';
import { z } from 'zod';
import { database, transaction } from '@/store/database';
import { announceSample } from '@/store/notifications';
import { addReadings, readingsOf, supersedeReadings } from '@/store/readings';
import { addRevision, readRevision } from '@/store/revisions';
import { readSample, readSummary } from '@/store/samples';
import * as store from '@/store/stemSets';
import { log } from './log';
import { renewNeed, renewStanding } from './renew';
import { notFound, UserError } from './userError';

/** Stems are sought among at most so many files of one folder and length. */
const MOST_CANDIDATES = 60;
/** As `findStemSets` counts lengths as the same, seconds. */
const LENGTH_TOLERANCE = 0.03;

/** Looks whether a measured sample is a stem of a piece, and proposes the set or adds it to one that is there. */
export async function proposeStemSet(client: pg.PoolClient, sampleId: string): Promise<void> {
  const near = await store.samplesOfLength(client, sampleId, LENGTH_TOLERANCE, MOST_CANDIDATES);
  if (near.length < 2) return;
  // Two stems that are measured at once would each propose a set of their own.
  await client.query('select pg_advisory_xact_lock(hashtextextended($1, 2))', [near[0].folder]);
  const candidates = near.map((one) => ({
    ...one,
    envelope: onsetEnvelope(one.measurement.onsets, one.durationSeconds),
  }));
  const found = findStemSets(candidates).find(({ ids }) => ids.includes(sampleId));
  if (!found || (await store.wereRefused(client, found.ids))) return;
  const known: store.StoredSet[] = [];
  for (const id of found.ids) {
    const set = await store.setOfSample(client, id);
    if (set && !known.some(({ setId }) => setId === set.setId)) known.push(set);
  }
  const [there] = known;
  if (there?.state === 'joined') {
    // A stem that comes later is fitted in: it takes the start, grid and key of its set.
    await store.addToStemSet(client, there.setId, [sampleId]);
    await shareInSet(client, there.gridFrom ?? there.sampleIds[0]);
    return;
  }
  const setId =
    there?.setId ?? (await store.makeStemSet(client, { ...found, state: 'proposed', sampleIds: found.ids }));
  if (there) {
    await store.addToStemSet(client, setId, found.ids);
    await store.changeStemSet(client, setId, { reasons: found.reasons, name: found.name });
  }
  await rank(client, setId);
  await tell(client, (await store.readStemSet(client, setId))!);
  for (const id of found.ids) await announceSample(client, { sampleId: id, what: 'changed' });
}

/** Chooses who speaks for the set: the stem with the clearest rhythm and the one with the clearest key. */
async function rank(client: pg.PoolClient, setId: string): Promise<void> {
  const set = (await store.readStemSet(client, setId))!;
  const stems = await store.measuredStems(client, set.sampleIds);
  await store.changeStemSet(client, setId, {
    gridFrom: rankForGrid(stems)[0]?.id,
    keyFrom: rankForKey(stems)[0]?.id,
  });
}

const joinRequest = z.object({
  sampleIds: z.array(z.uuid()).min(2).max(100),
  name: z.string().trim().min(1).max(300),
});

/** Joins samples as stems of one piece, as a curator says. */
export async function joinStems(input: unknown): Promise<string> {
  const { sampleIds, name } = joinRequest.parse(input);
  return transaction(async (client) => {
    const stems = await store.measuredStems(client, sampleIds);
    if (stems.length < sampleIds.length)
      throw new UserError('Only samples that are measured can be joined as stems.', 422);
    const setId = await store.makeStemSet(client, {
      name,
      state: 'joined',
      reasons: ['joined by a curator'],
      sampleIds,
    });
    await rank(client, setId);
    await join(client, setId);
    return setId;
  });
}

/** Joins or refuses a proposed set, changes who gives its grid or key, renames it, or lets a stem go. */
export async function changeSet(setId: string, input: unknown): Promise<void> {
  const change = stemSetChange.parse(input);
  await transaction(async (client) => {
    const set = await store.readStemSet(client, setId);
    if (!set) throw notFound();
    for (const id of [change.gridFrom, change.keyFrom, change.remove])
      if (id && !set.sampleIds.includes(id)) throw new UserError('This sample is no stem of the set.', 422);
    if (change.remove) {
      await store.leaveStemSet(client, setId, change.remove);
      await forget(client, change.remove);
      if (change.remove === set.gridFrom || change.remove === set.keyFrom) await rank(client, setId);
    }
    await store.changeStemSet(client, setId, change);
    const now = (await store.readStemSet(client, setId))!;
    if (now.state === 'joined') await join(client, setId);
    else if (now.state === 'proposed') await tell(client, now);
    else for (const sampleId of set.sampleIds) await forget(client, sampleId);
    for (const sampleId of set.sampleIds) await announceSample(client, { sampleId, what: 'changed' });
  });
  log.info({ event: 'stem set changed', set: setId, ...change });
}

async function join(client: pg.PoolClient, setId: string): Promise<void> {
  const set = (await store.readStemSet(client, setId))!;
  for (const sampleId of set.sampleIds)
    await change(client, sampleId, { kind: 'stem' }, `a stem of “${set.name}”`);
  await tell(client, set);
  if (set.keyFrom) await share(client, set, set.keyFrom, 'key');
  if (set.gridFrom) await share(client, set, set.gridFrom, 'grid');
}

/** What stems of a joined set share: parts of the settled state, and the properties that are settled with them. */
const SHARED = {
  grid: { parts: ['grid', 'pins'], properties: ['tempo', 'one', 'meter'] },
  key: { parts: ['key', 'tuningCents'], properties: ['key', 'tuning'] },
} as const;

/** Gives the grid or key that is settled on one stem to the others of its set. */
async function share(
  client: pg.PoolClient,
  set: store.StoredSet,
  from: string,
  what: keyof typeof SHARED,
): Promise<void> {
  const state = await stateOf(client, from);
  if (!state) return;
  const source = (await readSample(client, from))!;
  for (const sampleId of set.sampleIds) {
    if (sampleId === from) continue;
    const patch = Object.fromEntries(SHARED[what].parts.map((name) => [name, state[name]]));
    await change(client, sampleId, patch, `${what} of “${source.name}” in the set “${set.name}”`);
  }
}

/**
 * After the settled grid or key of a stem changed: the other stems of its joined set follow, those of a proposed one
 * are told. Nothing happens for samples that are in no set.
 */
export async function shareInSet(client: pg.PoolClient, sampleId: string): Promise<void> {
  const set = await store.setOfSample(client, sampleId);
  if (!set) return;
  if (set.state === 'proposed') {
    if (sampleId === set.gridFrom || sampleId === set.keyFrom) await tell(client, set);
    return;
  }
  await tell(client, { ...set, gridFrom: sampleId, keyFrom: sampleId });
  await share(client, set, sampleId, 'grid');
  await share(client, set, sampleId, 'key');
}

/**
 * Writes what the stems that speak for a set say as readings of the others, and anew why those need a look. What
 * they said before stays for the record.
 */
async function tell(client: pg.PoolClient, set: store.StoredSet): Promise<void> {
  const grid = set.gridFrom ? await speaking(client, set.gridFrom) : null;
  const key = set.keyFrom ? await speaking(client, set.keyFrom) : null;
  for (const sampleId of set.sampleIds) {
    const said = [
      ...(grid && sampleId !== set.gridFrom ? gridReadings(grid) : []),
      ...(key && sampleId !== set.keyFrom ? keyReadings(key) : []),
    ];
    const content = ({ property, value, sureness, detail }: Pick<StoredReading, keyof (typeof said)[0]>) => [
      property,
      value,
      Math.fround(sureness),
      detail,
    ];
    const known = (await toldTo(client, sampleId)).map(content);
    if (!isDeepStrictEqual(known, said.map(content))) {
      await supersedeReadings(client, sampleId, ['stem set']);
      await addReadings(client, sampleId, said);
      await announceSample(client, { sampleId, what: 'changed' });
    }
    await renewNeed(client, sampleId);
  }
}

/** A stem that is in no set any more is told nothing. */
async function forget(client: pg.PoolClient, sampleId: string): Promise<void> {
  await supersedeReadings(client, sampleId, ['stem set']);
  await renewNeed(client, sampleId);
}

async function toldTo(client: pg.PoolClient, sampleId: string): Promise<StoredReading[]> {
  const readings = await readingsOf(client, sampleId);
  return readings.filter(({ source, superseded }) => source === 'stem set' && !superseded);
}

async function speaking(client: pg.PoolClient, sampleId: string): Promise<SpeakingStem | null> {
  const [sample, state] = [await readSample(client, sampleId), await stateOf(client, sampleId)];
  if (!sample || !state) return null;
  const surenesses = new Map(
    (await readingsOf(client, sampleId)).map(({ readingId, sureness }) => [readingId, sureness]),
  );
  const chosen = Object.fromEntries(
    Object.entries(state.chosen).map(([property, readingId]) => [property, surenesses.get(readingId)]),
  );
  return { name: sample.name, state, measurement: sample.measurement, chosen };
}

async function stateOf(client: pg.PoolClient, sampleId: string): Promise<SettledState | null> {
  const sample = await readSample(client, sampleId);
  if (!sample || sample.currentSequence === null) return null;
  return (await readRevision(client, sampleId, sample.currentSequence))!.state;
}

async function change(client: pg.PoolClient, sampleId: string, patch: Partial<SettledState>, words: string) {
  const sample = await readSample(client, sampleId);
  if (!sample || sample.currentSequence === null) return;
  const { state } = (await readRevision(client, sampleId, sample.currentSequence))!;
  const next = { ...state, ...patch };
  const same =
    JSON.stringify(next.key) === JSON.stringify(state.key) &&
    next.kind === state.kind &&
    next.tuningCents === state.tuningCents &&
    JSON.stringify(next.pins) === JSON.stringify(state.pins) &&
    (next.grid && state.grid ? sameGrid(next.grid, state.grid) : next.grid === state.grid);
  if (same) return;
  // What a stem takes from its set was not chosen among its other readings.
  const chosen = { ...state.chosen };
  const taken = (['grid', 'key'] as const).filter((what) => what in patch);
  const told = await toldTo(client, sampleId);
  for (const property of taken.flatMap((what): readonly Property[] => SHARED[what].properties)) {
    const reading = told.find((one) => one.property === property);
    if (reading) chosen[property] = reading.readingId;
    else delete chosen[property];
  }
  await addRevision(
    client,
    sampleId,
    sample.currentSequence,
    { ...next, chosen, accepted: true },
    words.slice(0, 300),
    'curator',
  );
  await renewStanding(client, sampleId);
  await renewNeed(client, sampleId);
  await announceSample(client, { sampleId, what: 'changed' });
}

/** All sets, or the one of a sample, with their stems ranked. */
export async function stemSets(of: { sampleId: string } | null = null): Promise<StemSet[]> {
  const sets = of ? [await store.setOfSample(database(), of.sampleId)] : await store.listStemSets();
  return Promise.all(sets.flatMap((set) => (set ? [describe(set)] : [])));
}

async function describe(set: store.StoredSet): Promise<StemSet> {
  const stems = await store.measuredStems(database(), set.sampleIds);
  const grid = rankForGrid(stems);
  const key = rankForKey(stems);
  const members = [];
  for (const { id } of grid) {
    const row = await readSummary(database(), id);
    const stem = stems.find((one) => one.id === id)!;
    if (!row) continue;
    members.push({
      sampleId: id,
      name: row.name,
      folder: row.folder,
      thumbnail: row.thumbnail,
      durationSeconds: row.durationSeconds,
      tempoBpm: row.tempoBpm,
      key:
        row.keyTonic !== null && row.keyMode !== null
          ? keyLabel({ tonic: row.keyTonic, mode: row.keyMode })
          : null,
      givesGrid: set.gridFrom === id,
      givesKey: set.keyFrom === id,
      gridRank: grid.findIndex((one) => one.id === id),
      gridReasons: grid.find((one) => one.id === id)!.reasons,
      keyRank: key.findIndex((one) => one.id === id),
      keyReasons: key.find((one) => one.id === id)!.reasons,
      soundsFrom: stem.measurement.onsets[0]?.time ?? null,
    });
  }
  const { setId, name, state, reasons } = set;
  return { setId, name, state, reasons, members };
}
