import type pg from 'pg';
import type { WriteFormat } from '@/core/recipes/recipe';
import type { SettledState } from '@/contract/settled';
import type { Reading } from '@/core/readings/reading';
import { beatsWithin, type Grid } from '@/core/rhythm/grid';
import type { Key } from '@/core/harmony/keyNames';
import type { OpenTags } from '@/library/samples/openTags';
import { addToStep } from '@/store/bulkSteps';
import { transaction } from '@/store/database';
import { writePrint } from '@/store/likenesses';
import { endItem, holdTask } from '@/store/longTasks';
import { announceSamples } from '@/store/notifications';
import { storeOriginal, type StoredOriginal } from '@/store/originalBytes';
import { insertSample } from '@/store/samples';
import type { TakenTask } from '@/store/tasks';
import { changeInside } from '../change';
import { measureRequest } from '@/contract/measuring';
import { detectorReadings } from '../detectorReadings';
import { inOnePart } from '../inOnePart';
import { putMade } from '../packs';
import { encoded } from './encode';
import { findOut, recordFound, type Found } from './measure';

/** What was made, as an original of its own that was measured. */
export interface MadeFile {
  original: StoredOriginal;
  found: Found;
}

/** Stores bytes that were made and measures them again. `onProgress` gets the share of measuring. */
export async function measuredFile(
  bytes: Uint8Array,
  onProgress: (share: number) => void,
): Promise<MadeFile> {
  return measuredOriginal(await storeOriginal(inOnePart(bytes), Infinity), onProgress);
}

/** Measures what was made and is stored. `onProgress` gets the share of it. */
export async function measuredOriginal(
  original: StoredOriginal,
  onProgress: (share: number) => void,
): Promise<MadeFile> {
  const found = await findOut(original, measureRequest.parse({}), (_, share) => onProgress(share));
  return { original, found };
}

interface Sound {
  channels: readonly Float32Array[];
  rate: number;
  format: Exclude<WriteFormat, 'midi'>;
  /** Its bar lines are written into the file. */
  grid: Grid | null;
  turns: boolean;
  tags: OpenTags;
}

/** The bytes of a file with its tags, its bar lines and, where it loops, its loop. */
export function written({ channels, rate, format, grid, turns, tags }: Sound): Promise<Uint8Array> {
  const frames = channels[0].length;
  const bars = grid
    ? beatsWithin(grid, 0, frames / rate)
        .filter(({ place }) => Math.abs(place) < 1e-6)
        .map(({ time, bar }) => ({ frame: Math.min(frames, Math.round(time * rate)), label: `Bar ${bar}` }))
    : [];
  return encoded(channels, rate, format, { bars, turns }, tags);
}

/** What was made, with all that is kept of it. */
export interface KeptMade extends MadeFile {
  name: string;
  folder: string;
  /** The sample that it was made from. */
  parent: string;
  /** What the plan says of it, by readings; `detail` says whose plan. */
  planned: { grid: Grid | null; key: Key | null; tuningCents: number | null; detail: string };
  state: Partial<SettledState>;
  words: string;
  /** Keeps how it was made beside it. */
  writeHow: (client: pg.PoolClient, sampleId: string) => Promise<void>;
}

const PUT_IN = 'rendered samples added';

/** Sample, how it was made and what is settled of it, all at once; nothing when the task is no longer theirs. */
export async function keepMade(
  task: TakenTask<'render'> | TakenTask<'mix'>,
  position: number,
  { original, found, name, folder, parent, planned, state, words, writeHow }: KeptMade,
): Promise<void> {
  const { curatorId, stepId, isSaved, packId } = task.payload;
  await transaction(async (client) => {
    if (!(await holdTask(client, task))) return;
    const arrival = { originalId: original.originalId, name, folder, modifiedMs: null };
    const sampleId = await insertSample(client, { ...arrival, parent });
    await recordFound(client, sampleId, found);
    // It is like its parent, and that is no news: only whoever comes later is told of it.
    if (found.print) await writePrint(client, sampleId, found.print.words, found.print.chosen);
    await writeHow(client, sampleId);
    const measured = detectorReadings(found.measurement);
    await changeInside(
      client,
      { do: 'derived', sampleId, measured, planned: readingsOf(planned), state, words, isSaved },
      [sampleId],
      curatorId,
    );
    if (packId) await putMade(client, { packId, sampleId, words: PUT_IN, curatorId });
    // Taken back, what was made goes into the bin.
    await addToStep(client, stepId, [{ sampleId, made: null, binned: false }]);
    await endItem(task, position, { outcome: 'made', sampleId, received: 1000 }, client);
    await announceSamples(client, [sampleId], 'measured');
  });
}

function readingsOf({ grid, key, tuningCents, detail }: KeptMade['planned']): Reading[] {
  const source = { source: 'derived', sureness: 1, detail } as const;
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
