import type pg from 'pg';
import { returnRequest, settleChange, type SampleEntry } from '@/core/library/entry';
import { addReadings, readingsOf } from '@/store/readings';
import { database, transaction } from '@/store/database';
import { announceSample } from '@/store/notifications';
import {
  addRevision,
  readRevision,
  revisionHistory,
  StaleChangeError,
  stepRevision,
} from '@/store/revisions';
import { readEntry } from './entry';
import { log } from './log';
import { renewNeed, renewStanding } from './renew';
import { shareInSet } from './stemSets';
import { notFound, UserError } from './userError';

/** Applies a curator's change as a new revision. Throws UserError when the sample has moved on meanwhile. */
export async function settle(sampleId: string, input: unknown): Promise<SampleEntry> {
  const change = settleChange.parse(input);
  await transaction(async (client) => {
    const current = await readRevision(client, sampleId, change.base);
    if (!current) throw notFound();
    const state = { ...current.state, ...change.patch };
    if (change.reading) {
      const { property, source, value } = change.reading;
      // The same value from the same source again is no news.
      const known = (await readingsOf(client, sampleId)).find(
        (one) =>
          one.property === property &&
          one.source === source &&
          !one.superseded &&
          JSON.stringify(one.value) === JSON.stringify(value),
      );
      const stored = known ?? (await addReadings(client, sampleId, [change.reading]))[0];
      state.chosen = { ...state.chosen, [change.reading.property]: stored.readingId };
    }
    await addRevision(client, sampleId, change.base, state, change.words, 'curator').catch((error) => {
      throw error instanceof StaleChangeError ? new UserError(error.message, 409) : error;
    });
    await afterChange(client, sampleId);
  });
  log.info({ event: 'settled', sample: sampleId, words: change.words });
  return readEntry(sampleId);
}

/** Makes an earlier revision's state the present one again: a change of its own, which can be undone. */
export async function returnTo(sampleId: string, input: unknown): Promise<SampleEntry> {
  const { base, sequence } = returnRequest.parse(input);
  const earlier = await readRevision(database(), sampleId, sequence);
  if (!earlier) throw notFound();
  const { words } = (await revisionHistory(database(), sampleId)).find((one) => one.sequence === sequence)!;
  return settle(sampleId, { base, words: `back to “${words}”`.slice(0, 300), patch: earlier.state });
}

/** One step back or forth in a sample's history; nothing happens at its ends. */
export async function step(sampleId: string, direction: 'undo' | 'redo'): Promise<SampleEntry> {
  await transaction(async (client) => {
    const moved = await stepRevision(client, sampleId, direction);
    if (moved === null) return;
    await afterChange(client, sampleId);
  });
  return readEntry(sampleId);
}

/** What follows from a changed settled state: the standing, the doubts, and what stems of one set share. */
export async function afterChange(client: pg.PoolClient, sampleId: string): Promise<void> {
  await renewStanding(client, sampleId);
  await renewNeed(client, sampleId);
  await shareInSet(client, sampleId);
  await announceSample(client, { sampleId, what: 'changed' });
}
