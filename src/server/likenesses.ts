import type pg from 'pg';
import { printRate, sameRecording, type Print } from '@/core/alike/print';
import { likenessChange, type Likeness } from '@/core/library/intake';
import type { SampleSummary } from '@/core/library/entry';
import { HARMONY_RATE } from '@/core/harmony/pitchSpectrum';
import { database, transaction } from '@/store/database';
import {
  addLikeness,
  arrivedBefore,
  decidePair,
  identicalSamples,
  openPairs,
  samplesWithWords,
  writePrint,
} from '@/store/likenesses';
import { announceSample } from '@/store/notifications';
import { copyReadings } from '@/store/readings';
import { addRevision, readRevision } from '@/store/revisions';
import { readSample, readSummary, setMergedInto } from '@/store/samples';
import { log } from './log';
import { renewNeed } from './renew';
import { notFound, UserError } from './userError';

/** Chosen words in common before prints are compared whole, and how many samples are. */
const LEAST_WORDS = 1;
const MOST_CANDIDATES = 20;

/** Keeps a measured sample's print and records what it is like: the same bytes, audio or recording. */
export async function findLikenesses(client: pg.PoolClient, sampleId: string, print: Print): Promise<void> {
  await writePrint(client, sampleId, print.words, print.chosen);
  const known = new Set<string>();
  for (const { sampleId: other, relation, earlier } of await identicalSamples(client, sampleId)) {
    known.add(other);
    const [a, b] = earlier ? [other, sampleId] : [sampleId, other];
    await addLikeness(client, { a, b, relation, offsetSeconds: 0, difference: 0 });
  }
  for (const { sampleId: other, words } of await samplesWithWords(
    client,
    sampleId,
    print.chosen,
    LEAST_WORDS,
    MOST_CANDIDATES,
  )) {
    if (known.has(other)) continue;
    const earlier = await arrivedBefore(client, other, sampleId);
    const [first, second] = earlier ? [words, print.words] : [print.words, words];
    const match = sameRecording(first, second);
    if (!match) continue;
    const [a, b] = earlier ? [other, sampleId] : [sampleId, other];
    const offsetSeconds = match.offset / printRate(HARMONY_RATE);
    await addLikeness(client, {
      a,
      b,
      relation: 'same recording',
      offsetSeconds,
      difference: match.difference,
    });
    if (!earlier) await renewNeed(client, other);
  }
}

export interface AlikePair extends Likeness {
  samples: [SampleSummary, SampleSummary];
}

/** Undecided pairs of like samples with both rows, for looking at side by side. */
export async function alikePairs(): Promise<AlikePair[]> {
  const pairs = await openPairs(200);
  const rows = new Map<string, SampleSummary>();
  for (const id of new Set(pairs.flatMap(({ a, b }) => [a, b]))) {
    const row = await readSummary(database(), id);
    if (row) rows.set(id, row);
  }
  return pairs.flatMap((pair) => {
    const [first, second] = [rows.get(pair.a), rows.get(pair.b)];
    return first && second ? [{ ...pair, samples: [first, second] as [SampleSummary, SampleSummary] }] : [];
  });
}

/** Merges a pair (the one that goes leaves its tags, note and readings to the one that stays), or keeps both. */
export async function decideLikeness(input: unknown): Promise<void> {
  const { a, b, do: what } = likenessChange.parse(input);
  await transaction(async (client) => {
    if (!(await decidePair(client, a, b, what === 'keep apart' ? 'kept apart' : 'merged')))
      throw new UserError('This pair was decided already.', 409);
    if (what !== 'keep apart') {
      const [stays, goes] = what === 'merge' ? [a, b] : [b, a];
      await merge(client, stays, goes);
      await announceSample(client, { sampleId: goes, what: 'removed' });
    }
    for (const sampleId of [a, b]) {
      await renewNeed(client, sampleId);
      await announceSample(client, { sampleId, what: 'changed' });
    }
  });
  log.info({ event: 'likeness decided', a, b, what });
}

/** Takes a decision about a pair back: both are there as before; what was copied stays in the history. */
export async function reopenLikeness(input: unknown): Promise<void> {
  const { a, b } = likenessChange.pick({ a: true, b: true }).parse(input);
  await transaction(async (client) => {
    if (!(await decidePair(client, a, b, 'open'))) throw notFound();
    for (const sampleId of [a, b]) {
      await setMergedInto(client, sampleId, null);
      await renewNeed(client, sampleId);
      await announceSample(client, { sampleId, what: 'changed' });
    }
  });
}

async function merge(client: pg.PoolClient, stays: string, goes: string): Promise<void> {
  const [kept, gone] = await Promise.all([readSample(client, stays), readSample(client, goes)]);
  if (!kept || !gone) throw notFound();
  const mine = kept.currentSequence && (await readRevision(client, stays, kept.currentSequence));
  const theirs = gone.currentSequence && (await readRevision(client, goes, gone.currentSequence));
  await copyReadings(client, goes, stays, `from “${gone.arrivedAs}”`);
  if (mine && theirs) {
    const { state } = mine;
    const other = theirs.state;
    const tags = [
      ...state.tags,
      ...other.tags.filter((tag) => !state.tags.some((t) => t.facet === tag.facet && t.value === tag.value)),
    ].slice(0, 60);
    const note = [state.note, other.note].filter(Boolean).join('\n').slice(0, 4000);
    const merged = {
      ...state,
      tags,
      note,
      rating: state.rating ?? other.rating,
      origin: state.origin || other.origin,
      licence: state.licence || other.licence,
    };
    if (JSON.stringify(merged) !== JSON.stringify(state))
      await addRevision(
        client,
        stays,
        mine.sequence,
        merged,
        `merged with “${gone.arrivedAs}”`.slice(0, 300),
        'curator',
      );
  }
  await setMergedInto(client, goes, stays);
}
