import type pg from 'pg';
import { printRate, sameRecording, type Print } from '@/core/alike/print';
import { likenessChange, type AlikePair } from '@/contract/likenesses';
import { HARMONY_RATE } from '@/core/harmony/pitchSpectrum';
import { database } from '@/store/database';
import {
  addLikeness,
  arrivedBefore,
  decidePair,
  identicalSamples,
  openPairs,
  samplesWithWords,
} from '@/store/likenesses';
import { readSummaries } from '@/store/summaries';
import { doCommand, type Actor } from './change';
import { log } from './log';
import { notFound, UserError } from './userError';

/** Chosen words in common before prints are compared whole, and how many samples are. */
const LEAST_WORDS = 1;
const MOST_CANDIDATES = 20;

/**
 * Records what a measured sample is like: the same bytes, audio or recording. Its own print and hash were written, and seen by
 * all, before. Those that came later than it are told of it by the change that follows.
 */
export async function findLikenesses(client: pg.PoolClient, sampleId: string, print: Print): Promise<void> {
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
  }
}

/** Undecided pairs of like samples with both rows, for looking at side by side. */
export async function alikePairs(): Promise<AlikePair[]> {
  const pairs = await openPairs(200);
  const summaries = await readSummaries(database(), [...new Set(pairs.flatMap(({ a, b }) => [a, b]))]);
  const rows = new Map(summaries.map((row) => [row.sampleId, row]));
  return pairs.flatMap((pair) => {
    const [first, second] = [rows.get(pair.a), rows.get(pair.b)];
    return first && second ? [{ ...pair, samples: [first, second] as AlikePair['samples'] }] : [];
  });
}

/**
 * Merges a pair (the one that goes leaves its tags, note and readings to the one that stays), keeps both, or takes such
 * a decision back: both are there as before; what was copied stays in the history.
 */
export async function decideLikeness(input: unknown, actor: Actor): Promise<void> {
  const { a, b, do: what } = likenessChange.parse(input);
  const state = what === 'open' ? 'open' : what === 'keep apart' ? 'kept apart' : 'merged';
  await doCommand(async (client) => {
    const changed = await decidePair(client, a, b, state);
    if (!changed)
      throw what === 'open' ? notFound() : new UserError('This pair has been decided already.', 409);
    const sampleIds = [a, b];
    if (what === 'open') return { command: { do: 'reopen', pair: [a, b] }, sampleIds };
    if (what === 'keep apart') return { command: { do: 'renew' }, sampleIds };
    const [stays, goes] = what === 'merge' ? [a, b] : [b, a];
    return { command: { do: 'merge', stays, goes }, sampleIds };
  }, actor);
  log.info({ event: 'likeness decided', a, b, what });
}
