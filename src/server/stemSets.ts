import type pg from 'pg';
import { keyLabel, type Key } from '@/core/harmony/keyNames';
import { measuredGrid } from '@/core/measurement/measuredGrid';
import { feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import type { SampleSummary } from '@/contract/entry';
import { joinRequest, stemSetChange, type StemSet } from '@/contract/stemSets';
import { findStemSets, onsetEnvelope } from '@/core/stems/stemSets';
import { measuredKey, rankForGrid, rankForKey, type RankedStem } from '@/core/stems/rankStems';
import { database } from '@/store/database';
import { readSummaries } from '@/store/summaries';
import * as store from '@/store/stemSets';
import { doCommand, type Actor } from './change';
import { log } from './log';
import { notFound, UserError } from './userError';

/** Stems are sought among at most so many files of one folder and length. */
const MOST_CANDIDATES = 60;
/** As `findStemSets` counts lengths as the same, seconds. */
const LENGTH_TOLERANCE = 0.03;

/** The set that a sample was found to belong to, and sets that lost stems to it. */
export interface FoundSet {
  setId: string;
  parted: string[];
}

/**
 * Looks whether a measured sample is a stem of a piece, and proposes the set or adds it to one that is there. What
 * its stems tell each other is left to the change that follows.
 */
export async function proposeStemSet(client: pg.PoolClient, sampleId: string): Promise<FoundSet | null> {
  // Two stems that are measured at once would each propose a set of their own: the second reads when the first is written.
  await store.lockFolderOf(client, sampleId);
  const near = await store.samplesOfLength(client, sampleId, LENGTH_TOLERANCE, MOST_CANDIDATES);
  if (near.length < 2) return null;
  const candidates = near.map((one) => ({
    ...one,
    envelope: onsetEnvelope(one.measurement.onsets, one.durationSeconds),
  }));
  const found = findStemSets(candidates).find(({ ids }) => ids.includes(sampleId));
  if (!found || (await store.wereRefused(client, found.ids))) return null;
  const there = await store.setOfAny(client, found.ids);
  if (!there) return store.makeStemSet(client, { ...found, state: 'proposed', sampleIds: found.ids });
  const added = there.state === 'joined' ? [sampleId] : found.ids;
  const parted = await store.addToStemSet(client, there.setId, added);
  await store.renameProposal(client, there.setId, found.name, found.reasons);
  return { setId: there.setId, parted };
}

/** Joins samples as stems of one piece, as a curator says. */
export async function joinStems(input: unknown, actor: Actor): Promise<string> {
  const { sampleIds, name } = joinRequest.parse(input);
  return doCommand(async (client) => {
    const stems = await store.measuredStems(client, sampleIds);
    if (stems.length < sampleIds.length)
      throw new UserError('Only samples that are measured can be joined as stems.', 422);
    const made = await store.makeStemSet(client, {
      name,
      state: 'proposed',
      reasons: ['joined by a curator'],
      sampleIds,
    });
    const { setId } = made;
    const [gridFrom, keyFrom] = [rankForGrid(stems)[0]?.id, rankForKey(stems)[0]?.id];
    return {
      command: { do: 'set', setId, change: { state: 'joined', gridFrom, keyFrom }, parted: made.parted },
      sampleIds: [...sampleIds, ...(await store.membersOf(client, made.parted))],
      result: setId,
    };
  }, actor);
}

/** Joins what was made of the stems of one piece as a stem set. Done again, it changes nothing; fewer than two are none. */
export async function joinMade(sampleIds: readonly string[], name: string, actor: Actor): Promise<void> {
  if (sampleIds.length < 2) return;
  const there = await store.setOfAny(database(), sampleIds);
  if (there?.state === 'joined' && sampleIds.every((id) => there.sampleIds.includes(id))) return;
  await joinStems({ sampleIds, name }, actor);
}

/** Joins or refuses a proposed set, changes who gives its grid or key, renames it, or lets a stem go. */
export async function changeSet(setId: string, input: unknown, actor: Actor): Promise<void> {
  const change = stemSetChange.parse(input);
  await doCommand(async (client) => {
    const set = await store.readStemSet(client, setId);
    if (!set) throw notFound();
    return { command: { do: 'set', setId, change, parted: [] }, sampleIds: set.sampleIds };
  }, actor);
  log.info({ event: 'stem set changed', set: setId, ...change });
}

/** All sets, or the one of a sample, with their stems ranked. */
export async function stemSets(of: { sampleId: string } | null = null): Promise<StemSet[]> {
  const sets = of ? [await store.setOfAny(database(), [of.sampleId])] : await store.listStemSets();
  const there = sets.filter((set) => set !== null);
  const ids = [...new Set(there.flatMap(({ sampleIds }) => sampleIds))];
  const [rows, versions] = await Promise.all([
    readSummaries(database(), ids),
    store.measuredVersions(database(), ids),
  ]);
  const rowOf = new Map(rows.map((row) => [row.sampleId, row]));
  return Promise.all(there.map(async (set) => describe(set, await rankedStems(set, versions), rowOf)));
}

interface Ranked {
  grid: RankedStem[];
  key: RankedStem[];
  /** Where each begins to sound, seconds. */
  soundsFrom: Map<string, number | null>;
  /** What each says by itself. */
  ownGrid: Map<string, Grid | null>;
  ownKey: Map<string, Key | null>;
}

/** What was ranked before, by the stems and when they were measured: measurements are read once. */
const known = new Map<string, Ranked>();
const MOST_KNOWN = 500;

async function rankedStems(
  { sampleIds }: store.StoredSet,
  versions: ReadonlyMap<string, string>,
): Promise<Ranked> {
  const asked = sampleIds.map((id) => `${id} ${versions.get(id) ?? ''}`).join();
  const before = known.get(asked);
  if (before) return before;
  const stems = await store.measuredStems(database(), sampleIds);
  const ranked = {
    grid: rankForGrid(stems),
    key: rankForKey(stems),
    soundsFrom: new Map(stems.map(({ id, measurement }) => [id, measurement.onsets[0]?.time ?? null])),
    ownGrid: new Map(stems.map(({ id, measurement }) => [id, measuredGrid(measurement)])),
    ownKey: new Map(stems.map(({ id, measurement }) => [id, measuredKey(measurement)])),
  };
  known.set(asked, ranked);
  if (known.size > MOST_KNOWN) known.delete(known.keys().next().value!);
  return ranked;
}

/** How much later than the settled one of a row a measured one stands, within half a bar, ms. */
function besideMs(own: Grid | null, { oneSeconds, tempoBpm, beatsPerBar, beatUnit }: SampleSummary) {
  if (!own || oneSeconds === null || tempoBpm === null || beatsPerBar === null || beatUnit === null)
    return null;
  const bar = (60 * feltBeatsPerBar({ beatsPerBar, beatUnit })) / tempoBpm;
  const apart = own.one - oneSeconds;
  return 1000 * (apart - bar * Math.round(apart / bar));
}

function describe(
  set: store.StoredSet,
  { grid, key, soundsFrom, ownGrid, ownKey }: Ranked,
  rowOf: ReadonlyMap<string, SampleSummary>,
): StemSet {
  const members = grid.flatMap(({ id, reasons }, gridRank) => {
    const row = rowOf.get(id);
    const keyRank = key.findIndex((one) => one.id === id);
    if (!row) return [];
    return [
      {
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
        gridRank,
        gridReasons: reasons,
        keyRank,
        keyReasons: key[keyRank].reasons,
        soundsFrom: soundsFrom.get(id) ?? null,
        ownOneMs: besideMs(ownGrid.get(id) ?? null, row),
        ownKey: ownKey.get(id) ? keyLabel(ownKey.get(id)!) : null,
      },
    ];
  });
  const { setId, name, state, reasons } = set;
  return { setId, name, state, reasons, members };
}
