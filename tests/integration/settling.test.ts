import { readEntry } from '@/server/entry';
import { browseIntake, browseShelf, countIntake, countShelf } from '@/server/browse';
import { closeDatabase } from '@/store/database';
import { pullPin } from '@/core/rhythm/pins';
import { drumFile } from '../support/files';
import {
  bring,
  emptyLibrary,
  measureAll,
  measuredLoop,
  prove,
  setInBin,
  setSaved,
  settle,
  step,
} from '../support/library';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

const shelf = (query = '') =>
  browseShelf(new URLSearchParams(query)).then(({ rows }) => rows.map(({ name }) => name));

test('changes are steps that can be undone and redone, each with its words and its reading', async () => {
  const sampleId = await measuredLoop();
  const measured = await readEntry(sampleId);
  const pulled = pullPin({ grid: measured.settled.grid!, pins: [] }, 8, 5.02).grid;
  const changed = await settle(sampleId, {
    base: measured.sequence,
    words: 'bar 3 pulled',
    patch: { grid: pulled },
    reading: { property: 'tempo', value: pulled.tempoBpm, source: 'pins', sureness: 0.9, detail: 'bar 3' },
  });
  expect(changed.settled.grid).toEqual(pulled);
  expect(changed.readings.find(({ readingId }) => readingId === changed.settled.chosen.tempo)).toMatchObject({
    source: 'pins',
  });
  const tagged = await settle(sampleId, {
    base: changed.sequence,
    words: 'tagged',
    patch: { tags: [{ facet: 'part', value: 'drums' }] },
  });
  expect(tagged.undo?.words).toBe('tagged');

  const once = await step(sampleId, 'undo');
  expect(once.settled.tags).toEqual([]);
  const twice = await step(sampleId, 'undo');
  expect(twice.settled).toEqual(measured.settled);
  expect(twice).toMatchObject({ undo: null, redo: { words: 'bar 3 pulled', settled: changed.settled } });
  expect((await step(sampleId, 'undo')).settled).toEqual(measured.settled);
  await step(sampleId, 'redo');
  expect((await step(sampleId, 'redo')).settled).toEqual(tagged.settled);

  // A new change after an undo takes the place of what was undone; the history keeps it.
  await step(sampleId, 'undo');
  const at = await readEntry(sampleId);
  const other = await settle(sampleId, { base: at.sequence, words: 'noted', patch: { note: 'wet' } });
  expect(other.redo).toBeNull();
  expect(other.history.filter(({ abandoned }) => abandoned).map(({ words }) => words)).toEqual(['tagged']);
  expect((await step(sampleId, 'undo')).settled.grid).toEqual(pulled);
});

test('a change made to an old state is refused', async () => {
  const sampleId = await measuredLoop();
  const { sequence } = await readEntry(sampleId);
  await settle(sampleId, { base: sequence, words: 'first', patch: { note: 'a' } });
  await expect(settle(sampleId, { base: sequence, words: 'second', patch: { note: 'b' } })).rejects.toThrow(
    /changed elsewhere/,
  );
  expect((await readEntry(sampleId)).settled.note).toBe('a');
});

test('nonsense is refused before it reaches the database', async () => {
  const sampleId = await measuredLoop();
  const { sequence, settled } = await readEntry(sampleId);
  const attempt = (patch: object) => settle(sampleId, { base: sequence, words: 'x', patch });
  await expect(attempt({ grid: { ...settled.grid, tempoBpm: -3 } })).rejects.toThrow();
  await expect(attempt({ tags: [{ facet: 'part', value: 'spaceship' }] })).rejects.toThrow();
  await expect(attempt({ rating: 9 })).rejects.toThrow();
});

test('a proof vouches for one grid: changing it afterwards puts the proof out of date, undoing brings it back', async () => {
  const sampleId = await measuredLoop();
  const before = await readEntry(sampleId);
  const proved = await prove(sampleId, {
    base: before.sequence,
    verdict: 'on',
    signedBy: 'Ada Wilmot',
    heard: [
      { label: 'beginning', verdict: 'on' },
      { label: 'end', verdict: null },
    ],
  });
  expect(proved.summary.standing).toBe('proved');
  expect(proved.proofs[0]).toMatchObject({
    verdict: 'on',
    signedBy: 'Ada Wilmot',
    byEar: true,
    current: true,
  });
  expect(proved.proofs[0].places.map(({ heard, verdict }) => [heard, verdict])).toEqual([
    [true, 'on'],
    [false, null],
    [true, null],
  ]);
  for (const place of proved.proofs[0].places) expect(Math.abs(place.medianMs!)).toBeLessThan(6);
  const tagged = await settle(sampleId, { base: proved.sequence, words: 'noted', patch: { note: 'dry' } });
  expect(tagged.summary.standing).toBe('proved');
  const moved = await settle(sampleId, {
    base: tagged.sequence,
    words: 'moved',
    patch: { grid: { ...tagged.settled.grid!, one: 0.25 } },
  });
  expect(moved.summary.standing).toBe('measured');
  expect(moved.proofs[0].current).toBe(false);
  expect([proved.summary.proof, moved.summary.proof]).toEqual(['current', 'lost']);
  expect((await step(sampleId, 'undo')).summary).toMatchObject({ standing: 'proved', proof: 'current' });
});

test('a verdict of early or late is kept, but proves nothing', async () => {
  const sampleId = await measuredLoop();
  const { sequence } = await readEntry(sampleId);
  const late = await prove(sampleId, { base: sequence, verdict: 'late', signedBy: 'Ada', heard: [] });
  expect(late.summary.standing).toBe('measured');
  expect(late.proofs[0]).toMatchObject({ verdict: 'late', byEar: false });
});

test('what is saved is found by word, tempo, half or double, key, kind and tag', async () => {
  const loop = await measuredLoop('Rainy Rope.wav');
  const entry = await readEntry(loop);
  await settle(loop, {
    base: entry.sequence,
    words: 'in use',
    patch: {
      key: { tonic: 9, mode: 'minor' },
      tags: [
        { facet: 'part', value: 'drums' },
        { facet: 'motion', value: 'busy' },
        { facet: 'word', value: 'puppet' },
      ],
      note: 'with 100% of the creaks',
    },
  });
  expect(await shelf()).toEqual([]);
  await setSaved(loop, true);
  for (const hit of [
    '',
    'text=rope',
    'text=RAINY+rope',
    'text=puppet',
    'text=100%25',
    'tempoFrom=99&tempoTo=101',
    'tempoFrom=195&tempoTo=205&alsoHalfDouble=true',
    'keyTonic=9&keyMode=minor',
    'kind=loop',
    'tags=part:drums',
    'tags=part:bass&tags=part:drums&tags=word:puppet',
  ]) {
    expect([hit, await shelf(hit)]).toEqual([hit, ['Rainy Rope.wav']]);
  }
  for (const miss of [
    'text=tent',
    'text=1000',
    'tempoFrom=195',
    'keyTonic=9&keyMode=major',
    'kind=song',
    'tags=part:bass',
    'tags=part:drums&tags=motion:still',
  ]) {
    expect([miss, await shelf(miss)]).toEqual([miss, []]);
  }
  const { facets, exact } = await countShelf(new URLSearchParams());
  expect(exact).toBe(true);
  expect(facets).toContainEqual({ facet: 'word', value: 'puppet', count: 1 });
  expect(facets).toContainEqual({ facet: 'kind', value: 'loop', count: 1 });
  await setSaved(loop, false);
  expect(await shelf()).toEqual([]);
});

test('the bin takes a sample away and gives it back', async () => {
  const loop = await measuredLoop();
  await setSaved(loop, true);
  await setInBin(loop, true);
  expect(await shelf()).toEqual([]);
  expect((await browseIntake(new URLSearchParams())).total).toBe(0);
  await setInBin(loop, false);
  expect(await shelf()).toEqual(['loop.wav']);
});

test('the Intake filters, sorts and pages', async () => {
  await bring('b.wav', drumFile({ bpm: 120, bars: 2 }));
  await bring('a.wav', drumFile({ bpm: 90, bars: 3 }));
  await bring('torn.wav', drumFile({ bpm: 90, bars: 2 }).subarray(0, 30));
  await measureAll();
  const names = (query: string) =>
    browseIntake(new URLSearchParams(query)).then(({ rows }) => rows.map(({ name }) => name));
  expect(await names('')).toEqual(['torn.wav', 'a.wav', 'b.wav']);
  expect(await names('sort=name&direction=up&offset=1&limit=1')).toEqual(['b.wav']);
  expect(await names('sort=length&direction=up')).toEqual(['b.wav', 'a.wav', 'torn.wav']);
  expect(await names('show=faulty')).toEqual(['torn.wav']);
  expect(await countIntake(new URLSearchParams())).toMatchObject({
    all: 3,
    faulty: 1,
    saved: 0,
  });
  await expect(async () => browseIntake(new URLSearchParams('sort=colour'))).rejects.toThrow();
});

test('samples that are not measured cannot be saved or proved', async () => {
  const { sampleId } = await bring('c.wav', drumFile({ bpm: 120, bars: 2 }));
  await expect(setSaved(sampleId, true)).rejects.toThrow(/“c.wav” is not measured yet/);
  await expect(prove(sampleId, { base: 1, verdict: 'on', signedBy: 'x', heard: [] })).rejects.toThrow();
});

test('the same value typed again is no second reading', async () => {
  const sampleId = await measuredLoop();
  for (const bpm of [97, 98, 97]) {
    const { sequence, settled } = await readEntry(sampleId);
    const grid = { ...settled.grid!, tempoBpm: bpm };
    const reading = {
      property: 'tempo' as const,
      value: bpm,
      source: 'typed' as const,
      sureness: 0.9,
      detail: 'typed',
    };
    await settle(sampleId, { base: sequence, words: `${bpm} typed`, patch: { grid }, reading });
  }
  const { readings, settled } = await readEntry(sampleId);
  const typed = readings.filter(({ source }) => source === 'typed');
  expect(typed.map(({ value }) => value)).toEqual([97, 98]);
  expect(settled.chosen.tempo).toBe(typed[0].readingId);
});
