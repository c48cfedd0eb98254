import { fittableRow } from '@/library/samples/aims';
import { proposalFor, type Target } from '@/core/timeStretch/proposal';
import { sampleOfStrainGroup, strainGroupOf } from '@/core/timeStretch/strainGroup';
import { keyNumber } from '@/core/harmony/keyNames';
import type { SampleSummary } from '@/contract/entry';
import { LIKE_BY } from '@/core/resemblance/features';
import { nearKeys } from '@/core/harmony/nearKeys';
import {
  browseIntake,
  browseOverview,
  browseShelf,
  browseShelfTargets,
  browseTargets,
  countShelf,
} from '@/server/browse';
import { forgetSearch, keepSearch, searchesNow } from '@/server/searches';
import { STATUS_TIMES, tempoBin } from '@/contract/overview';
import { shelfView } from '@/contract/shelfQuery';
import { closeDatabase, database } from '@/store/database';
import { fillLibrary } from '../bench/fillLibrary';
import { emptyLibrary } from '../support/library';

const SAVED = 13_000;
const OPEN = 500;

beforeAll(async () => {
  await emptyLibrary();
  const client = await database().connect();
  // More than are found whole: lists are read along their orders.
  await fillLibrary(client, SAVED, OPEN);
  client.release();
}, 120_000);
afterAll(async () => {
  await emptyLibrary();
  await closeDatabase();
});

const shelf = (query: Record<string, string | number | boolean>) =>
  browseShelf(new URLSearchParams(Object.entries(query).map(([name, value]) => [name, String(value)])));

const LIMIT = 500;
const everyPage = Array.from({ length: SAVED / LIMIT }, (_, page) => page * LIMIT);

test.each(
  ['saved', 'name', 'tempo', 'key', 'length', 'rating'].flatMap((sort) => [
    [sort, 'up'],
    [sort, 'down'],
  ]),
)(
  'by %s, %s: pages follow each other without a gap, from both ends, rows without a value last',
  async (sort, direction) => {
    // One order is read whole, the others at their ends and where reading turns to the other end.
    const offsets = sort === 'tempo' ? everyPage : [0, 500, 6000, 6500, 7000, 12_000, 12_500];
    const ids: string[] = [];
    const values: (number | null)[] = [];
    for (const offset of offsets) {
      const asked = { sort, direction, offset, limit: LIMIT };
      const { rows, total } = await shelf({ ...asked, of: SAVED });
      expect(total).toBe(offset === 0 ? SAVED : null);
      ids.push(...rows.map(({ sampleId }) => sampleId));
      values.push(...rows.map((row) => (sort === 'tempo' ? row.tempoBpm : row.rating)));
      // Without the hint the same page is found from the beginning.
      if (offset === 7000)
        expect((await shelf(asked)).rows.map(({ sampleId }) => sampleId)).toEqual(ids.slice(-LIMIT));
    }
    expect(new Set(ids).size).toBe(offsets.length * LIMIT);
    if (sort === 'tempo' || sort === 'rating') {
      const without = values.indexOf(null);
      expect(values.slice(without).every((value) => value === null)).toBe(true);
      const with_ = values.slice(0, without) as number[];
      expect(with_).toEqual([...with_].sort((a, b) => (direction === 'up' ? a - b : b - a)));
    }
  },
);

test('what few match is the same as what many do, filtered', async () => {
  const all = await shelf({ kind: 'stem', limit: 500, sort: 'name', direction: 'up' });
  const { rows } = await database().query(
    `select sample_id as id, count(*) over () as of from settled
      where standing = 'saved' and kind = 'stem' order by sort_name, sample_id limit 500`,
  );
  expect(all.total).toBe(rows[0].of);
  expect(all.rows.map(({ sampleId }) => sampleId)).toEqual(rows.map(({ id }) => id));
});

test.each<[string, Target]>([
  ['a tempo and a key', { tempoBpm: 96, key: { tonic: 4, mode: 'minor' }, isTape: false }],
  ['a tempo', { tempoBpm: 141.3, key: null, isTape: false }],
  ['a key', { tempoBpm: null, key: { tonic: 3, mode: 'major' }, isTape: false }],
  ['a tempo, as a tape', { tempoBpm: 74, key: { tonic: 9, mode: 'minor' }, isTape: true }],
  ['a key, as a tape', { tempoBpm: null, key: { tonic: 9, mode: 'minor' }, isTape: true }],
])('by strain at %s: as the rows themselves say it, least first', async (_, target) => {
  const { tempoBpm, key, isTape } = target;
  const asked = {
    ...{ sort: 'strain', direction: 'up', limit: LIMIT, targetTape: isTape },
    ...(tempoBpm === null ? {} : { targetTempo: tempoBpm }),
    ...(key === null ? {} : { targetKey: keyNumber(key) }),
  };
  const ids: string[] = [];
  // The first rows are found near the target, those behind them among all: both go on where the other ends.
  for (const offset of [0, 500, 1000, 1500, 2000, 2500, 6000, 12_500]) {
    const { rows, total } = await shelf({ ...asked, offset });
    expect(total).toBe(offset === 0 ? SAVED : null);
    // Rows are in the order of their groups, exactly; their own strain, which knows the tempo and not only its step, is about the same.
    const samples = rows.map((row) => ({ ...fittableRow(row), tuningCents: null }));
    const strains = samples.map((sample) => {
      return proposalFor(sampleOfStrainGroup(strainGroupOf(sample)), target).strain;
    });
    for (let i = 1; i < strains.length; i++) expect(strains[i]).toBeGreaterThan(strains[i - 1] - 1.001e-6);
    const apart = samples.map((sample, i) => Math.abs(proposalFor(sample, target).strain - strains[i]));
    expect(apart.filter((one) => one > 0.003).length).toBeLessThan(5);
    ids.push(...rows.map(({ sampleId }) => sampleId));
  }
  expect(new Set(ids).size).toBe(ids.length);
  // From the other end the same rows come the other way round.
  const { rows: last } = await shelf({ ...asked, direction: 'down', limit: 40 });
  const { rows: end } = await shelf({ ...asked, offset: SAVED - 40, limit: 40 });
  expect(last.map(({ sampleId }) => sampleId)).toEqual(end.map(({ sampleId }) => sampleId).reverse());
});

test.each(LIKE_BY)('by likeness, by %s: the sample itself first, then what lies nearest', async (by) => {
  const { rows: some } = await database().query(
    `select sample_id as id, standing from settled where kind = 'loop' order by standing = 'saved' desc, sample_id limit 1`,
  );
  const { rows: open } = await database().query(
    `select sample_id as id from settled where standing <> 'saved' limit 1`,
  );
  for (const [like, isSaved] of [
    [some[0].id, true],
    [open[0].id, false],
  ] as const) {
    const { rows, total } = await shelf({ sort: 'likeness', like, likeBy: by, kind: 'loop', limit: 100 });
    expect(total).toBeGreaterThan(1000);
    expect(rows).toHaveLength(100);
    if (isSaved) expect(rows[0].sampleId).toBe(like);
    const { rows: apart } = await database().query(
      `select s.like_${by} <-> x.like_${by} as apart from unnest($2::uuid[]) with ordinality w (id, place)
         join settled s on s.sample_id = w.id, settled x where x.sample_id = $1 order by w.place`,
      [like, rows.map(({ sampleId }) => sampleId)],
    );
    const { rows: best } = await database().query(
      `select s.like_${by} <-> x.like_${by} as apart from settled s, settled x
        where x.sample_id = $1 and s.standing = 'saved' and s.kind = 'loop' order by 1 limit 100`,
      [like],
    );
    expect(apart).toEqual(best);
  }
});

test('the sample itself stands before its equals, and pages meet without a gap', async () => {
  const { rows: some } = await database().query(
    `select sample_id as id from settled where standing = 'saved' and kind = 'stem' order by sample_id limit 8`,
  );
  const ids: string[] = some.map(({ id }) => id);
  const like = ids[5];
  await database().query(
    `update settled set like_all = x.like_all from (select like_all from settled where sample_id = $1) x where sample_id = any($2)`,
    [like, ids],
  );
  const asked = { sort: 'likeness', like, likeBy: 'all', kind: 'stem' };
  const { rows: whole } = await shelf({ ...asked, limit: 20 });
  expect(whole[0].sampleId).toBe(like);
  const found = whole.map(({ sampleId }) => sampleId);
  expect(found.slice(1, 8)).toEqual(ids.filter((id) => id !== like));
  const pages: string[] = [];
  for (const offset of [0, 5, 10, 15])
    pages.push(...(await shelf({ ...asked, offset, limit: 5 })).rows.map(({ sampleId }) => sampleId));
  expect(pages).toEqual(found);
  // Where it is not among them, nothing stands in its place.
  const { rows: loops } = await shelf({ ...asked, kind: 'loop', limit: 5 });
  expect(loops).toHaveLength(5);
  expect(loops.map(({ sampleId }) => sampleId)).not.toContain(like);
});

test('like a sample that there is none of, nothing is found', async () => {
  const like = '00000000-0000-4000-8000-000000000000';
  expect(await shelf({ sort: 'likeness', like })).toMatchObject({ total: 0, rows: [] });
});

test.each<[Record<string, string | number>, (row: SampleSummary) => boolean]>([
  [{ beatsPerBar: 3, beatUnit: 4 }, (row) => row.beatsPerBar === 3 && row.beatUnit === 4],
  [{ bars: 4 }, (row) => row.bars === 4],
  [{ proof: 'proved' }, (row) => row.proof === 'current'],
  [{ proof: 'unproved' }, (row) => row.proof !== 'current'],
])('%j is a filter', async (asked, holds) => {
  const { rows, total } = await shelf({ ...asked, limit: 500 });
  expect(total).toBeGreaterThan(0);
  expect(total).toBeLessThan(SAVED);
  expect(rows.every(holds)).toBe(true);
});

test('words are found anywhere in a word, short ones at its beginning, mistyped ones nearly', async () => {
  const velvet = await shelf({ text: 'elve trot' });
  expect(velvet.rows.length).toBeGreaterThan(20);
  for (const { name } of velvet.rows) expect(name).toMatch(/^Velvet Trot/);
  const short = await shelf({ text: 'ji' });
  expect(short.rows.some(({ name }) => name.includes('Jig'))).toBe(true);
  const mistyped = await shelf({ text: 'Marionete' });
  expect(mistyped.insteadOf).toEqual([{ typed: 'marionete', found: 'marionette' }]);
  expect(mistyped.rows[0].name).toMatch(/Marionette/);
  expect(await shelf({ text: 'qqqqxzz' })).toMatchObject({ total: 0, insteadOf: [], rows: [] });
  // A stroke or a percent sign is a letter like others.
  expect((await shelf({ text: '%' })).total).toBe(0);
});

test('the Intake knows them, too, and all of what it lists can be chosen', async () => {
  const query = new URLSearchParams({ show: 'needs a look', limit: '5' });
  const { total } = await browseIntake(query);
  expect(total).toBeGreaterThan(100);
  const targets = await browseTargets(query);
  expect(targets).toHaveLength(total!);
  expect(targets.slice(0, 5).map(({ sampleId }) => sampleId)).toEqual(
    (await browseIntake(query)).rows.map(({ sampleId }) => sampleId),
  );
});

const counted = async (query: Record<string, string> = {}) =>
  countShelf(new URLSearchParams({ text: '', ...query }));

test.each([
  ['bars', '4', 'bars=4', 'bars = 4'],
  ['meter', '3/4', 'beatsPerBar=3&beatUnit=4', 'beats_per_bar = 3'],
  ['length', '1–5 s', 'lengthFrom=1&lengthTo=5', 'duration_seconds >= 1 and duration_seconds < 5'],
  ['moves', 'moving', 'moves=moving', 'not steady'],
  ['proof', 'proved', 'proof=proved', "proof = 'current'"],
  ['made', 'as it arrived', 'made=as+it+arrived', 'parent is null'],
])('%s: what is counted as %s is what is found', async (facet, value, query, condition) => {
  // Among few enough to be counted whole.
  const { facets, exact } = await counted({ tempoFrom: '100', tempoTo: '110' });
  expect(exact).toBe(true);
  const { rows } = await database().query(
    `select count(*) as count from settled where standing = 'saved' and tempo_bpm between 100 and 110 and ${condition}`,
  );
  const count = rows[0].count;
  expect(count).toBeGreaterThan(0);
  expect(facets).toContainEqual({ facet, value, count });
  const found = await browseShelf(new URLSearchParams(`tempoFrom=100&tempoTo=110&limit=1&${query}`));
  expect(found.total).toBe(count);
});

test('ratings, origin and licence narrow the Shelf, and are counted', async () => {
  const { rows } = await database().query(
    `update settled set origin = 'the loft', licence = 'free' where sample_id in (
       select sample_id from settled where standing = 'saved' order by sample_id limit 7) returning rating`,
  );
  const { facets } = await counted({ origin: 'the loft' });
  expect(facets).toContainEqual({ facet: 'origin', value: 'the loft', count: 7 });
  expect(facets).toContainEqual({ facet: 'licence', value: 'free', count: 7 });
  const good = rows.filter(({ rating }) => rating >= 3).length;
  expect((await shelf({ licence: 'free', ratingFrom: 3 })).total).toBe(good);
});

const overviewOf = (query: string) => browseOverview(new URLSearchParams(query));
const totalOf = async (query: string) => (await browseShelf(new URLSearchParams(`${query}&limit=1`))).total!;

test('the overview counts what is found: each measure without what is asked of it', async () => {
  const asked = 'origin=the+loft';
  await database().query(
    `update settled set origin = 'the loft' where sample_id in (
       select sample_id from settled where standing = 'saved' order by sample_id limit 900)`,
  );
  const all = await overviewOf(asked);
  expect([all.tempi.exact, all.keys.exact, all.kinds.exact, all.parts.exact]).toEqual([
    true,
    true,
    true,
    true,
  ]);
  const sum = (counts: readonly number[]) => counts.reduce((a, b) => a + b, 0);
  const { tempi, keys } = all;
  expect(sum(tempi.bins) + tempi.slower + tempi.faster + tempi.without).toBe(900);
  expect(sum(keys.counts) + keys.without).toBe(900);
  expect(sum(all.kinds.values.map(({ count }) => count))).toBe(900);
  const bin = tempi.bins.indexOf(Math.max(...tempi.bins));
  const [from, to] = tempoBin(bin);
  // The end of a bin is the beginning of the next.
  expect(tempi.bins[bin]).toBe(await totalOf(`${asked}&tempoFrom=${from}&tempoTo=${to - 1e-9}`));
  const key = keys.counts.findIndex((count) => count > 0);
  const inKey = `${asked}&keyTonic=${key % 12}&keyMode=${key < 12 ? 'major' : 'minor'}`;
  // A one-shot's root has no mode: the filter finds it under both.
  expect(keys.counts[key]).toBeLessThanOrEqual(await totalOf(inKey));
  for (const { value, count } of all.parts.values)
    expect(count).toBe(await totalOf(`${asked}&tags=part:${value.replaceAll(' ', '+')}`));
  // A filter narrows all but its own measure.
  const loops = await overviewOf(`${asked}&kind=loop&tempoFrom=${from}&tempoTo=${to - 1e-9}`);
  const loopsAtAll = all.kinds.values.find(({ value }) => value === 'loop')!.count;
  expect(sum(loops.tempi.bins) + loops.tempi.slower + loops.tempi.faster + loops.tempi.without).toBe(
    loopsAtAll,
  );
  expect(sum(loops.kinds.values.map(({ count }) => count))).toBe(tempi.bins[bin]);
});

test('the overview of many is an estimate that says so, and the library over time only grows', async () => {
  const { tempi, kinds, time } = await overviewOf('');
  expect([tempi.exact, kinds.exact, time.exact]).toEqual([false, false, false]);
  for (const { value, count } of kinds.values)
    expect(Math.abs(count / (await totalOf(`kind=${value}`)) - 1)).toBeLessThan(0.25);
  for (const status of STATUS_TIMES)
    expect([...time.counts[status]].sort((a, b) => a - b)).toEqual(time.counts[status]);
  expect(time.counts.arrived.at(-1)! / (SAVED + OPEN)).toBeCloseTo(1, 0);
  expect(Date.parse(time.from)).toBeLessThan(Date.parse(time.to));
});

test('the overview of an empty answer, and what is said wrongly', async () => {
  const none = await overviewOf('text=zzqqx');
  expect(none.kinds).toEqual({ exact: true, values: [] });
  expect(Math.max(...none.tempi.bins, ...none.keys.counts)).toBe(0);
  await expect(overviewOf('tempoFrom=fast')).rejects.toThrow();
});

test.each(['licence', 'tags'])('what lacks its %s is counted and found', async (lacks) => {
  await database().query(
    `update settled set licence = 'free', words = '{kept}' where standing = 'saved' and sample_id in (
       select sample_id from settled where standing = 'saved' and tempo_bpm between 100 and 110 order by sample_id limit 50)`,
  );
  const { facets, exact } = await counted({ tempoFrom: '100', tempoTo: '110' });
  expect(exact).toBe(true);
  const { rows } = await database().query(
    `select count(*) as count from settled where standing = 'saved' and tempo_bpm between 100 and 110
        and ${lacks === 'licence' ? "licence = ''" : 'facets = 0 and cardinality(words) = 0'}`,
  );
  const found = await totalOf(`tempoFrom=100&tempoTo=110&lacks=${lacks}`);
  expect(found).toBe(rows[0].count);
  expect(facets.find((one) => one.facet === 'lacks' && one.value === lacks)?.count ?? 0).toBe(found);
  const all = await totalOf('tempoFrom=100&tempoTo=110');
  expect(found).toBeLessThanOrEqual(all - 50);
});

test('keys that are near by fifths or semitones are found with the key', async () => {
  const E = { tonic: 4, mode: 'minor' } as const;
  for (const keyNear of ['exactly', '2 fifths', '1 semitone'] as const) {
    const { rows } = await database().query(
      // Of one-shots only the root counts.
      `select count(*) as count from settled where standing = 'saved'
          and (key_number = any($1) or kind = 'oneshot' and (key_number + 12) % 24 = any($1))`,
      [nearKeys(E, keyNear)],
    );
    expect((await shelf({ keyTonic: 4, keyMode: 'minor', keyNear, limit: 1 })).total).toBe(rows[0].count);
  }
});

test('all that a query finds are named in its order, for whatever order', async () => {
  const like = (await shelf({ limit: 1 })).rows[0].sampleId;
  const orders: Record<string, string | number>[] = [
    { kind: 'stem', sort: 'name', direction: 'up' },
    { kind: 'stem', sort: 'likeness', like },
    { kind: 'stem', sort: 'strain', direction: 'up', targetTempo: 96 },
  ];
  for (const asked of orders) {
    const page = await shelf({ ...asked, limit: 50 });
    const all = await browseShelfTargets(
      new URLSearchParams(Object.entries(asked).map(([k, v]) => [k, String(v)])),
    );
    expect(all).toHaveLength(page.total!);
    expect(all.slice(0, 50).map(({ sampleId }) => sampleId)).toEqual(
      page.rows.map(({ sampleId }) => sampleId),
    );
  }
});

test('searches are kept under a name, one takes the place of another of its name, and are forgotten', async () => {
  const asked = shelfView.parse({ text: 'slow bass', keyTonic: 4, keyMode: 'minor', keyNear: '1 fifth' });
  await keepSearch({ name: ' Cellar ', asked: shelfView.parse({}) });
  const kept = await keepSearch({ name: 'cellar', asked });
  expect(kept).toEqual([{ searchId: expect.any(String), name: 'cellar', asked }]);
  await expect(keepSearch({ name: '', asked })).rejects.toThrow();
  await forgetSearch(kept[0].searchId);
  expect(await searchesNow()).toEqual([]);
  await expect(forgetSearch(kept[0].searchId)).rejects.toThrow('deleted already');
});
