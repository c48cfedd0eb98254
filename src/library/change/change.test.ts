import { nothing } from '@/core/measurement/measure';
import type { Measurement } from '@/core/measurement/schema';
import { EMPTY_STATE, type SettledState } from '@/contract/settled';
import type { Order } from '@/contract/orders';
import { change, type Command } from './change';
import type { Snapshot, SnapshotRevision, SnapshotSample, SnapshotSet } from './snapshot';

const NOW = '2026-03-01T10:00:00.000Z';
const ADA = { curatorId: 'ada', name: 'Ada', initials: 'A', named: true };
const grid = (tempoBpm: number) => ({
  ...{ tempoBpm, one: 0, movingBeats: null },
  meter: { beatsPerBar: 4, beatUnit: 4 },
});
const measured: Measurement = {
  ...nothing(8),
  kind: 'loop',
  kindSureness: 0.95,
  tempo: { bpm: 120, sureness: 0.95, alternatives: [], steady: true, bpmError: 0 },
  theOne: 0,
  theOneSureness: 0.99,
  meter: { beatsPerBar: 4, beatUnit: 4, sureness: 0.99 },
  onsets: Array.from({ length: 16 }, (_, beat) => ({ time: beat / 2, strength: 9 })),
};

/** A step of a sample's history. */
const revision = (sequence: number, state: Partial<SettledState>, more: Partial<SnapshotRevision> = {}) => ({
  ...{ sequence, words: `step ${sequence}`, state: { ...EMPTY_STATE, ...state } },
  ...{ changeId: null, madeBy: 'measurement' as const, joinedSet: null, ...more },
});

function sample(sampleId: string, more: Partial<SnapshotSample> = {}): SnapshotSample {
  const current = revision(1, { grid: grid(120) });
  return {
    ...{ sampleId, arrivedAs: `${sampleId}.wav`, folder: '', arrivedAt: NOW, sha256: sampleId },
    ...{ durationSeconds: 8, kind: 'loop', fault: null, warnings: [], measurement: measured },
    ...{ isMeasured: more.measurement !== null, kept: null },
    ...{ mergedInto: null, savedAt: null, binnedAt: null, current, lastSequence: 1, byCurator: false },
    ...{
      previous: null,
      following: null,
      isMade: false,
      madeBars: null,
      offPlan: [],
      readings: [],
      proofs: [],
      ...more,
    },
  };
}

const snapshot = (samples: readonly SnapshotSample[], sets: readonly SnapshotSet[] = []): Snapshot => ({
  samples: new Map(samples.map((one) => [one.sampleId, one])),
  sets,
  likenesses: [],
});

let count = 0;
const by = { who: ADA, now: NOW, newId: () => `id ${count++}` };
const does = (of: Snapshot, command: Command) => change(of, command, by);
/** Does an order to all samples of a slice, whatever they are now. */
const order = (of: Snapshot, what: Order, base: number | null = null) =>
  does(of, {
    do: 'order',
    order: what,
    targets: [...of.samples.keys()].map((sampleId) => ({ sampleId, base })),
  });
const settle = (patch: Partial<SettledState>): Order => ({ do: 'settle', words: 'so', patch, reading: null });

describe('one sample', () => {
  test('is settled by a step that says what it was before, and its row says it', () => {
    const { done, writes, rows } = order(snapshot([sample('a')]), settle({ note: 'from the cellar' }));
    expect(done).toEqual([{ sampleId: 'a', made: 2, binned: null }]);
    expect(writes.revisions).toMatchObject([
      {
        sampleId: 'a',
        sequence: 2,
        after: 1,
        words: 'so',
        state: { note: 'from the cellar', grid: grid(120) },
      },
    ]);
    expect(rows).toMatchObject([{ sampleId: 'a', sequence: 2, tempoBpm: 120, standing: 'measured' }]);
    expect(rows[0].searchText).toContain('from the cellar');
  });

  test('that has moved on since it was seen is left solo, and it is said by whom', () => {
    const madeBy = { curatorId: 'ben', name: 'Ben', initials: 'B' };
    const moved = sample('a', { current: revision(3, { grid: grid(90) }, { madeBy }), lastSequence: 3 });
    const { done, refused, writes } = order(snapshot([moved]), settle({ note: 'late' }), 2);
    expect([done, writes.revisions]).toEqual([[], []]);
    expect(refused).toEqual([
      expect.objectContaining({
        name: 'a.wav',
        refusal: { code: 'changed elsewhere', by: 'Ben', words: 'step 3' },
      }),
    ]);
  });

  test('that is not measured cannot be settled or saved, but deleted', () => {
    const bare = { measurement: null, current: null, lastSequence: 0, kind: null };
    const of = snapshot([sample('a', bare)]);
    for (const what of [
      settle({ note: 'x' }),
      { do: 'save' } as const,
      { do: 'return', sequence: 1 } as const,
    ])
      expect(order(of, what).refused[0].refusal.code).toBe('not measured yet');
    const { done, rows } = order(of, { do: 'bin' });
    expect(done).toEqual([{ sampleId: 'a', made: null, binned: true }]);
    expect(rows[0]).toMatchObject({ binnedAt: NOW, standing: 'arrived' });
  });

  test('is saved once, and goes back to being measured', () => {
    const { rows } = order(snapshot([sample('a')]), { do: 'save' });
    expect(rows[0]).toMatchObject({ savedAt: NOW, standing: 'saved' });
    const kept = snapshot([sample('a', { savedAt: 'long ago' })]);
    expect(order(kept, { do: 'save' }).rows[0].savedAt).toBe('long ago');
    expect(order(kept, { do: 'unsave' }).rows[0]).toMatchObject({ savedAt: null, standing: 'measured' });
  });

  test('that was merged into another comes back by its pair solo', () => {
    const merged = sample('a', { binnedAt: 'then', mergedInto: 'b' });
    expect(order(snapshot([merged]), { do: 'restore' }).refused[0].refusal).toEqual({
      code: 'merged',
      name: 'a.wav',
    });
    // It lies in the bin already: nothing is done, nothing is refused.
    expect(order(snapshot([merged]), { do: 'bin' })).toMatchObject({ done: [], refused: [] });
  });
});

describe('a step back', () => {
  const [first, second] = [revision(1, { grid: grid(120) }), revision(2, { grid: grid(60) })];
  const mine = { ...second, madeBy: { curatorId: 'ada', name: 'Ada', initials: 'A' } };
  const undo = (evenForeign = false) => ({ do: 'undo', evenForeign }) as const;

  test('to what was before, forth to what was undone, and at either end nowhere', () => {
    const here = sample('a', { current: mine, previous: first, lastSequence: 2 });
    expect(order(snapshot([here]), undo()).rows[0]).toMatchObject({ sequence: 1, tempoBpm: 120 });
    const back = sample('a', { current: first, following: mine, lastSequence: 2 });
    expect(order(snapshot([back]), { do: 'redo' }).rows[0]).toMatchObject({ sequence: 2, tempoBpm: 60 });
    expect(order(snapshot([sample('a')]), undo())).toMatchObject({ done: [], refused: [] });
  });

  test('of somebody else is asked about first', () => {
    const madeBy = { curatorId: 'ben', name: 'Ben', initials: 'B' };
    const theirs = snapshot([
      sample('a', { current: { ...second, madeBy }, previous: first, lastSequence: 2 }),
    ]);
    expect(order(theirs, undo()).refused[0]).toMatchObject({
      refusal: { code: 'step of another', by: 'Ben' },
    });
    expect(order(theirs, undo(true)).rows[0].tempoBpm).toBe(120);
  });

  test('undoes what the same change did elsewhere', () => {
    const current = { ...mine, changeId: 'both' };
    const of = snapshot(['a', 'b'].map((id) => sample(id, { current, previous: first, lastSequence: 2 })));
    const { rows } = does(of, { do: 'order', order: undo(), targets: [{ sampleId: 'a', base: null }] });
    expect(rows.map(({ tempoBpm }) => tempoBpm)).toEqual([120, 120]);
  });
});

describe('many at once', () => {
  test('each is done by itself: what cannot be is named, the others are done', () => {
    const of = snapshot([
      sample('slow', { current: revision(1, { grid: grid(15) }) }),
      sample('fine'),
      sample('none', { current: revision(1, { grid: null }) }),
    ]);
    const { done, refused, rows } = order(of, { do: 'scale', ratio: 0.5 });
    expect(done.map(({ sampleId }) => sampleId)).toEqual(['fine']);
    expect(refused.map(({ name, refusal }) => [name, refusal])).toEqual([
      ['slow.wav', { code: 'impossible tempo', bpm: 7.5 }],
      ['none.wav', { code: 'no tempo' }],
    ]);
    expect(rows.map(({ tempoBpm }) => tempoBpm)).toEqual([15, 60, null]);
  });

  test('what changes nothing makes no step', () => {
    const of = snapshot([sample('a', { current: revision(1, { kind: 'loop' }) }), sample('b')]);
    expect(order(of, { do: 'kind', kind: 'loop' }).writes.revisions.map(({ sampleId }) => sampleId)).toEqual([
      'b',
    ]);
  });

  test('are accepted where they are sure enough', () => {
    const unsure = { ...measured, tempo: { ...measured.tempo!, sureness: 0.5 } };
    const of = snapshot([sample('confidence'), sample('unsure', { measurement: unsure })]);
    const { writes, rows } = order(of, { do: 'accept', above: 0.9 });
    expect(writes.revisions.map(({ sampleId }) => sampleId)).toEqual(['confidence']);
    expect(rows.map(({ doubts }) => doubts.length > 0)).toEqual([false, true]);
  });

  test('words are put on and taken off, to sixty', () => {
    const word = (value: string) => ({ facet: 'word' as const, value });
    const tags = Array.from({ length: 60 }, (_, i) => word(`word ${i}`));
    const full = snapshot([sample('a', { current: revision(1, { tags }) })]);
    expect(order(full, { do: 'tags', add: [word('more')], remove: [] }).refused[0].refusal).toEqual({
      code: 'too many tags',
      most: 60,
    });
    const { rows } = order(full, { do: 'tags', add: [word('more')], remove: [tags[0]] });
    expect(rows[0].words).toHaveLength(60);
    expect(rows[0].words).toContain('more');
  });
});

describe('stems of a set', () => {
  const set = (state: SnapshotSet['state']): SnapshotSet => ({
    ...{ setId: 'set', name: 'Parade', state, gridFrom: 'a', keyFrom: null, members: ['a', 'b'] },
  });
  const two = (state: SnapshotSet['state']) => snapshot([sample('a'), sample('b')], [set(state)]);
  const toOne = (of: Snapshot, what: Order, sampleId = 'a') =>
    does(of, { do: 'order', order: what, targets: [{ sampleId, base: null }] });

  test('share what is settled on one of them, in one change', () => {
    for (const from of ['a', 'b']) {
      const { rows, writes } = toOne(two('joined'), settle({ grid: grid(96) }), from);
      expect(rows.map(({ tempoBpm }) => tempoBpm)).toEqual([96, 96]);
      expect(writes.revisions).toHaveLength(2);
    }
  });

  test('that are only proposed are told it, and keep what they have', () => {
    const { rows, writes } = toOne(two('proposed'), settle({ grid: grid(96) }));
    expect(rows.map(({ tempoBpm }) => tempoBpm)).toEqual([96, 120]);
    expect(writes.readings.map(({ sampleId, source }) => [sampleId, source])).toContainEqual([
      'b',
      'stem set',
    ]);
    expect(rows[1].todos).toContainEqual({ code: 'may be a stem', set: 'Parade', weight: 0.1 });
  });

  test('a refused set tells nobody anything', () => {
    const { rows, writes } = toOne(two('refused'), settle({ grid: grid(96) }));
    expect(rows.map(({ tempoBpm }) => tempoBpm)).toEqual([96, 120]);
    expect(writes.readings).toEqual([]);
  });

  test('joining makes stems of them; one that is no stem cannot speak for it', () => {
    const joins = (gridFrom?: string): Command => ({
      ...{ do: 'set', setId: 'set', parted: [] },
      change: { state: 'joined', gridFrom } as never,
    });
    const { rows } = does(two('proposed'), joins());
    expect(rows.map(({ kind }) => kind)).toEqual(['stem', 'stem']);
    expect(() => does(two('proposed'), joins('elsewhere'))).toThrow('no stem of the set');
    expect(() => does(snapshot([sample('a')]), joins())).toThrow('no such set');
  });
});

test('renewing says all rows again, with what they are like, and writes nothing else', () => {
  const of: Snapshot = {
    ...snapshot([sample('later')]),
    likenesses: [
      ...['first', 'second', 'third'].map((a) => ({
        ...{ a, b: 'later', relation: 'same recording' as never, aName: `${a}.wav`, aBinned: false },
      })),
      { a: 'gone', b: 'later', relation: 'same recording' as never, aName: 'gone.wav', aBinned: true },
    ],
  };
  const { rows, writes, done } = does(of, { do: 'renew' });
  expect(rows[0].todos).toEqual([
    { code: 'alike', relation: 'same recording', name: 'first.wav', others: 2, weight: 0.35 },
  ]);
  expect([done, writes.revisions, writes.readings, writes.sets, writes.merged]).toEqual([[], [], [], [], []]);
});

describe('what a newer engine measures', () => {
  const newer: SnapshotSample['readings'][number] = {
    property: 'tempo',
    value: 60,
    source: 'newer measurement',
    readingId: 'new',
    ...{ sureness: 0.9, detail: '', rank: 0, readAt: NOW, superseded: false },
  };
  const compared = (more: Partial<SnapshotSample> = {}) =>
    snapshot([sample('a', { readings: [newer], ...more })]);
  const waits = ({ rows }: ReturnType<typeof does>) =>
    rows[0].todos.some(({ code }) => code === 'newer tempo');
  const prove = (verdict: 'on' | 'late') => ({ do: 'prove', verdict, heard: [] }) as Order;

  test('waits until what is settled is accepted or proved', () => {
    expect(waits(does(compared(), { do: 'renew' }))).toBe(true);
    expect(waits(order(compared(), { do: 'accept', above: null }))).toBe(false);
    expect(waits(order(compared(), prove('on')))).toBe(false);
  });

  test('still waits after a check that found the grid late, and after an order that was refused', () => {
    expect(waits(order(compared(), prove('late')))).toBe(true);
    const torn = order(compared({ fault: 'torn' }), { do: 'accept', above: null });
    expect(torn.refused).toHaveLength(1);
    expect(torn.writes.superseded).toEqual([]);
  });

  test('is of that sample alone: merged into another, it is left behind', () => {
    const both = snapshot([sample('a'), sample('b', { readings: [newer] })]);
    expect(does(both, { do: 'merge', stays: 'a', goes: 'b' }).writes.readings).toEqual([]);
  });
});
