import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import {
  copyFileSync,
  mkdirSync,
  mkdtempSync,
  rmSync,
  symlinkSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { z } from 'zod';
import type { IntakeQuery } from '@/contract/shelfQuery';
import { encodeWave } from '@/core/formats/encodeWave';
import { nightParade, PARADE_STEMS } from '@/demo/pieces';
import { undoBulk } from '@/server/change/bulk';
import { browseIntake, browseShelf, browseTargets, countIntake, countShelf } from '@/server/browse';
import { deliveryOffers, fetchPack, setMoodOfDelivery } from '@/server/deliveries';
import { readEntry } from '@/server/entry';
import { alikePairs, decideLikeness } from '@/server/likenesses';
import { measuredInside, keepMeasured } from '@/server/measurementCache';
import { keepPlace, lookInto, peekInto, placeFile, takeFromPlace } from '@/server/places';
import { changeSet, stemSets } from '@/server/stemSets';
import { directTask, pauseMeasuring, preferInSight } from '@/server/tasks';
import { ANYBODY } from '@/server/change';
import { closeDatabase, database } from '@/store/database';
import { listLongTasks } from '@/store/longTasks';
import { measure } from '@/server/tasks/measure';
import { measuringState, takeTask, type TakenTask } from '@/store/tasks';
import { drumFile } from '../support/files';
import {
  bring,
  bringAll,
  emptyLibrary,
  inBulk,
  measureAll,
  measuredLoop,
  setSaved,
  settle,
} from '../support/library';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

const names = async (query: Partial<Record<keyof IntakeQuery, string>> = {}) =>
  (await browseIntake(new URLSearchParams(query))).rows.map(({ name }) => name);

describe('triage', () => {
  test('what needs a curator comes first, and accepting sinks it', async () => {
    await bring('fine 100 bpm.wav', drumFile({ bpm: 100, bars: 4, seed: 2 }));
    const { sampleId: doubtful } = await bring('odd 151 bpm.wav', drumFile({ bpm: 100, bars: 4, seed: 3 }));
    await bring('letter.wav', new TextEncoder().encode('no sound. '.repeat(99)));
    await measureAll();
    expect(await names()).toEqual(['letter.wav', 'odd 151 bpm.wav', 'fine 100 bpm.wav']);
    expect(await countIntake(new URLSearchParams())).toMatchObject({
      all: 3,
      'needs a look': 2,
      faulty: 1,
      sure: 1,
      'sources disagree': 1,
    });
    const result = await inBulk({ do: 'accept', above: null }, [doubtful]);
    expect(result).toMatchObject({ done: 1, refused: [] });
    expect((await readEntry(doubtful)).summary.doubts).toEqual([]);
    expect(await names({ show: 'needs a look' })).toEqual(['letter.wav']);
    await undoBulk(result.stepId, ANYBODY);
    expect(await names({ show: 'needs a look' })).toHaveLength(2);
    await expect(undoBulk(result.stepId, ANYBODY)).rejects.toThrow('undone already');
  });

  test('choosing what the name says settles that doubt', async () => {
    const { sampleId } = await bring('twice 200 bpm.wav', drumFile({ bpm: 100, bars: 4 }));
    await measureAll();
    await inBulk({ do: 'choose', source: 'file name' }, [sampleId]);
    const { settled, summary } = await readEntry(sampleId);
    expect(settled.grid!.tempoBpm).toBe(200);
    expect(summary.doubts).toEqual([]);
    const none = await inBulk({ do: 'choose', source: 'taps' }, [sampleId]);
    expect(none.refused[0].why).toMatch(/No taps says/);
  });

  test('many steps on many samples, each undone as a whole where nothing changed since', async () => {
    const ids = [
      await measuredLoop('a.wav', 1),
      await measuredLoop('b.wav', 2),
      await measuredLoop('c.wav', 3),
    ];
    const tempi = async () =>
      Promise.all(ids.map(async (id) => (await readEntry(id)).settled.grid!.tempoBpm));
    const before = await tempi();
    const halved = await inBulk({ do: 'scale', ratio: 0.5 }, ids);
    expect((await tempi()).map((bpm, i) => bpm / before[i])).toEqual([0.5, 0.5, 0.5]);
    const { sequence, settled } = await readEntry(ids[2]);
    await settle(ids[2], { base: sequence!, words: 'note', patch: { note: `of ${settled.grid!.tempoBpm}` } });
    expect(await undoBulk(halved.stepId, ANYBODY)).toMatchObject({
      undone: 2,
      refused: [{ sampleId: ids[2] }],
    });
    expect((await tempi()).map((bpm, i) => bpm / before[i])).toEqual([1, 1, 0.5]);

    const add = [{ facet: 'part' as const, value: 'drums' }];
    await inBulk({ do: 'tags', add, remove: [] }, ids);
    await inBulk({ do: 'kind', kind: 'stem' }, ids.slice(0, 1));
    const renamed = await inBulk({ do: 'rename', template: '{part} {name}[ {bpm} bpm][ {key}]' }, ids);
    expect((await names({ sort: 'name', direction: 'up' }))[0]).toMatch(/^drums a 100 bpm\.wav$/);
    const entry = await readEntry(ids[0]);
    expect(entry.summary).toMatchObject({ kind: 'stem', arrivedAs: 'a.wav' });
    await undoBulk(renamed.stepId, ANYBODY);
    expect(await names({ sort: 'name', direction: 'up' })).toEqual(['a.wav', 'b.wav', 'c.wav']);
    const odd = await inBulk({ do: 'rename', template: '{colour}' }, ids);
    expect(odd.refused).toHaveLength(3);
    expect(odd.refused[0].why).toBe('There is no field {colour}.');

    const binned = await inBulk({ do: 'bin' }, ids.slice(1));
    expect(await names()).toEqual(['a.wav']);
    expect(await browseTargets(new URLSearchParams({ show: 'bin' }))).toHaveLength(2);
    await undoBulk(binned.stepId, ANYBODY);
    expect(await names()).toHaveLength(3);
  });

  test('measuring paused and goes on, and what is in sight goes first', async () => {
    const ids: string[] = [];
    for (let i = 0; i < 4; i++)
      ids.push((await bring(`${i}.wav`, encodeWave([new Float32Array(200 + i)], 8000, 16))).sampleId);
    await pauseMeasuring({ paused: true });
    expect(await takeTask(1, ['measure'])).toBeNull();
    expect(await measuringState()).toMatchObject({ waiting: 4, running: 0, paused: true });
    await pauseMeasuring({ paused: false });
    await preferInSight({ sampleIds: [ids[2]] });
    expect((await takeTask(1, ['measure']))!.sampleId).toBe(ids[2]);
    await preferInSight({ sampleIds: [ids[3]] });
    expect((await takeTask(1, ['measure']))!.sampleId).toBe(ids[3]);
    expect((await takeTask(1, ['measure']))!.sampleId).toBe(ids[0]);
  });
});

test('the Shelf goes by the name and the kind that a curator gave', async () => {
  const [first, second] = [await measuredLoop('zebra.wav', 11), await measuredLoop('middle.wav', 12)];
  await inBulk({ do: 'rename', template: 'apple' }, [first]);
  await inBulk({ do: 'kind', kind: 'stem' }, [first]);
  for (const id of [first, second]) await setSaved(id, true);
  const shelf = (query: string) => browseShelf(new URLSearchParams(query));
  const named = await shelf('sort=name&direction=up');
  const { facets } = await countShelf(new URLSearchParams());
  expect(named.rows.map(({ name }) => name)).toEqual(['apple.wav', 'middle.wav']);
  expect(facets.filter(({ facet }) => facet === 'kind')).toEqual([
    { facet: 'kind', value: 'loop', count: 1 },
    { facet: 'kind', value: 'stem', count: 1 },
  ]);
  expect((await shelf('kind=stem')).rows.map(({ name }) => name)).toEqual(['apple.wav']);
});

describe('stem sets', () => {
  test('stems are proposed, joined, and share what is settled; refused ones stay apart', async () => {
    const ids = new Map<string, string>();
    for (const stem of PARADE_STEMS.slice(0, 3)) {
      const { stage } = nightParade(stem);
      const bytes = encodeWave([stage.left, stage.right], stage.sampleRate, 16);
      ids.set(stem, (await bring(`Night Parade - ${stem}.wav`, bytes, 'Parade')).sampleId);
    }
    await bring('Another 100.wav', drumFile({ bpm: 100, bars: 4 }), 'Parade');
    await measureAll();
    const [set, ...more] = await stemSets();
    expect(more).toEqual([]);
    expect(set).toMatchObject({ name: 'Night Parade', state: 'proposed' });
    expect(set.members.map(({ sampleId }) => sampleId).sort()).toEqual([...ids.values()].sort());
    const giver = set.members.find(({ givesGrid }) => givesGrid)!;
    expect(giver.sampleId).toBe(ids.get(PARADE_STEMS[0]));
    expect(giver.gridReasons.join()).toMatch(/named drums/);

    const todos = async () =>
      Promise.all([...ids.values()].map(async (id) => (await readEntry(id)).summary.todos));
    for (const words of await todos())
      expect(words).toContainEqual({ code: 'may be a stem', set: 'Night Parade', weight: 0.1 });

    await changeSet(set.setId, { state: 'joined' }, ANYBODY);
    expect((await todos()).flat().map(({ code }) => code)).not.toContain('may be a stem');
    const grids = async () =>
      Promise.all([...ids.values()].map(async (id) => (await readEntry(id)).settled.grid));
    const [first, ...others] = await grids();
    for (const grid of others) expect(grid).toEqual(first);
    for (const id of ids.values()) expect((await readEntry(id)).summary.kind).toBe('stem');
    // Where it came from stands among the readings.
    const taker = await readEntry(ids.get(PARADE_STEMS[1])!);
    const source = taker.readings.find(({ readingId }) => readingId === taker.settled.chosen.tempo);
    expect(source).toMatchObject({ source: 'stem set', sureness: 1, superseded: false });
    // What is settled on one is settled on all.
    const [one] = ids.values();
    const entry = await readEntry(one);
    await settle(one, { base: entry.sequence!, words: 'half', patch: { grid: { ...first!, tempoBpm: 61 } } });
    for (const grid of await grids()) expect(grid!.tempoBpm).toBe(61);

    await changeSet(set.setId, { state: 'refused' }, ANYBODY);
    expect(await stemSets()).toEqual([]);
  });

  test('a proposed set tells its stems what the clearest ones say, as readings', async () => {
    const ids: string[] = [];
    for (const stem of PARADE_STEMS) {
      const { stage } = nightParade(stem);
      const bytes = encodeWave([stage.left, stage.right], stage.sampleRate, 16);
      ids.push((await bring(`Night Parade - ${stem}.wav`, bytes, 'Told')).sampleId);
    }
    await measureAll();
    const { truth } = nightParade(PARADE_STEMS[1]);
    const [set] = (await stemSets()).filter(({ state }) => state === 'proposed');
    const told = async (id: string) =>
      (await readEntry(id)).readings.filter((one) => one.source === 'stem set' && !one.superseded);
    for (const { sampleId, givesGrid, givesKey } of set.members) {
      const said = new Map((await told(sampleId)).map(({ property, value }) => [property, value]));
      expect(said.has('tempo')).toBe(!givesGrid);
      // Drums are told no key: they are in none.
      const { toneless } = (await readEntry(sampleId)).summary;
      expect(said.has('key')).toBe(!givesKey && !toneless);
      if (givesGrid) continue;
      expect(said.get('tempo')).toBeCloseTo(truth.bpm!, 1);
      expect(said.get('one')).toBeCloseTo(truth.one!, 1);
    }

    // A stem that measured something else says so, and takes it over when somebody says that it should.
    const needy = [];
    for (const { sampleId, name } of set.members) {
      const { summary, settled } = await readEntry(sampleId);
      expect(summary.doubts).not.toContainEqual(expect.objectContaining({ code: 'not trimmed' }));
      const says = summary.doubts.filter(
        (one) => one.code === 'one disagrees' || ('by' in one && one.by === 'stem set'),
      );
      const tempo = settled.grid?.tempoBpm ?? 0;
      const key = settled.key && 'tonic' in settled.key ? settled.key : null;
      const wrongTempo = Math.abs(tempo - truth.bpm!) > 1;
      const wrongKey = key !== null && key.tonic !== truth.key!.tonic;
      const apart = (settled.grid!.one - truth.one!) / ((4 * 60) / truth.bpm!);
      const wrongOne = !wrongTempo && Math.abs(apart - Math.round(apart)) > 0.02;
      const wrong = [wrongTempo, wrongOne, wrongKey].filter(Boolean).length;
      expect([name, says.length]).toEqual([name, wrong]);
      if (says.length) needy.push(sampleId);
    }
    expect(needy.length).toBeGreaterThan(0);
    const { refused } = await inBulk({ do: 'choose', source: 'stem set' }, needy);
    expect(refused).toEqual([]);
    for (const id of needy) {
      const { settled, summary, readings } = await readEntry(id);
      expect(settled.grid!.tempoBpm).toBeCloseTo(truth.bpm!, 1);
      expect(settled.grid!.one).toBeCloseTo(truth.one!, 1);
      if (!summary.toneless) expect(settled.key).toEqual(truth.key);
      expect(readings.find(({ readingId }) => readingId === settled.chosen.tempo)?.source).toBe('stem set');
      expect(
        summary.doubts.filter(
          (one) => one.code === 'one disagrees' || ('by' in one && one.by === 'stem set'),
        ),
      ).toEqual([]);
    }

    // What is corrected on the stem that speaks is told again; who leaves the set is told nothing any more.
    const giver = set.members.find(({ givesGrid }) => givesGrid)!.sampleId;
    const entry = await readEntry(giver);
    const grid = { ...entry.settled.grid!, tempoBpm: 59 };
    await settle(giver, { base: entry.sequence!, words: 'half', patch: { grid } });
    const other = set.members.find(({ sampleId, givesKey }) => sampleId !== giver && !givesKey)!.sampleId;
    expect((await told(other)).find(({ property }) => property === 'tempo')!.value).toBe(59);
    await changeSet(set.setId, { remove: other }, ANYBODY);
    expect(await told(other)).toEqual([]);
    expect((await readEntry(other)).summary.todos).toContainEqual({ code: 'not trimmed', weight: 0.15 });
    await changeSet(set.setId, { state: 'refused' }, ANYBODY);
    for (const id of ids) expect(await told(id)).toEqual([]);
  });

  test('a stem that comes later is fitted into its joined set', async () => {
    const bytesOf = (stem: (typeof PARADE_STEMS)[number]) => {
      const { stage } = nightParade(stem);
      return encodeWave([stage.left, stage.right], stage.sampleRate, 16);
    };
    await bring(`Night Parade - ${PARADE_STEMS[0]}.wav`, bytesOf(PARADE_STEMS[0]), 'P');
    await bring(`Night Parade - ${PARADE_STEMS[1]}.wav`, bytesOf(PARADE_STEMS[1]), 'P');
    await measureAll();
    const [set] = await stemSets();
    await changeSet(set.setId, { state: 'joined' }, ANYBODY);
    const { sampleId } = await bring(`Night Parade - ${PARADE_STEMS[2]}.wav`, bytesOf(PARADE_STEMS[2]), 'P');
    await measureAll();
    const [now] = await stemSets();
    expect(now.members).toHaveLength(3);
    const grid = (await readEntry(now.members.find(({ givesGrid }) => givesGrid)!.sampleId)).settled.grid;
    expect((await readEntry(sampleId)).settled.grid).toEqual(grid);
  });
});

test('merging keeps tags and readings of both, and can be undone', async () => {
  const bytes = drumFile({ bpm: 100, bars: 4 });
  const { sampleId: a } = await bring('a.wav', bytes);
  const { sampleId: b } = await bring('b 100 bpm Am.wav', bytes);
  await measureAll();
  for (const [id, value] of [
    [a, 'first'],
    [b, 'second'],
  ])
    await inBulk({ do: 'tags', add: [{ facet: 'word', value }], remove: [] }, [id]);
  expect((await alikePairs()).map(({ relation }) => relation)).toEqual(['same bytes']);
  await decideLikeness({ a, b, do: 'merge' }, ANYBODY);
  const kept = await readEntry(a);
  expect(kept.settled.tags.map(({ value }) => value)).toEqual(['first', 'second']);
  expect(kept.readings.some(({ source, property }) => source === 'file name' && property === 'tempo')).toBe(
    true,
  );
  expect(await names()).toEqual(['a.wav']);
  expect(await names({ show: 'bin' })).toEqual([]);
  await decideLikeness({ a, b, do: 'open' }, ANYBODY);
  expect(await names({ sort: 'name', direction: 'up' })).toEqual(['a.wav', 'b 100 bpm Am.wav']);
  await decideLikeness({ a, b, do: 'keep apart' }, ANYBODY);
  expect(await alikePairs()).toEqual([]);
  await expect(decideLikeness({ a, b, do: 'merge' }, ANYBODY)).resolves.toBeUndefined();
});

describe('folders', () => {
  let root = '';
  beforeEach(() => {
    root = mkdtempSync(join(tmpdir(), 'grento-place-'));
    mkdirSync(join(root, 'drums'));
    writeFileSync(join(root, 'drums', 'Brush 96,5 bpm.wav'), drumFile({ bpm: 96.5, bars: 2 }));
    writeFileSync(join(root, 'drums', 'b.wav'), drumFile({ bpm: 100, bars: 2 }));
    writeFileSync(join(root, 'readme.txt'), 'not audio');
    symlinkSync('/etc', join(root, 'way-out'));
    execFileSync('sh', ['-c', 'mkfifo "$0"', join(root, 'drums', 'pipe.wav')]);
  });
  afterEach(() => rmSync(root, { recursive: true }));

  test('equal files that are measured at the same moment find each other', async () => {
    const bytes = drumFile({ bpm: 96, bars: 2, seed: 12 });
    for (let i = 0; i < 5; i++) await bring(`copy ${i}.wav`, bytes, `folder ${i}`);
    const tasks: TakenTask<'measure'>[] = [];
    for (let task = await takeTask(1, ['measure']); task; task = await takeTask(1, ['measure']))
      tasks.push(task);
    await Promise.all(tasks.map((task) => measure(task, () => {})));
    const { rows } = await database().query('select a, b from likenesses');
    expect(rows).toHaveLength(10);
  });

  test('are looked through, heard, and imported by choice, each file once', async () => {
    await expect(keepPlace({ path: 'samples' })).rejects.toThrow('is not an absolute path');
    await expect(keepPlace({ path: '/no/such/folder' })).rejects.toThrow('There is no folder');
    const { placeId } = await keepPlace({ path: root });
    const top = await lookInto(placeId, '');
    expect(top).toMatchObject({
      folders: [{ name: 'drums', files: 3 }],
      files: [],
      others: 1,
    });
    const inner = await lookInto(placeId, 'drums');
    expect(inner.files.map(({ name, tempo, takenIn }) => [name, tempo, takenIn])).toEqual([
      ['b.wav', null, false],
      ['Brush 96,5 bpm.wav', '96.5 BPM', false],
    ]);
    const peek = await peekInto(placeId, 'drums/b.wav');
    expect(peek.durationSeconds).toBeCloseTo(4.8, 2);
    expect(peek.thumbnail!.length).toBeGreaterThan(300);
    expect((await placeFile(placeId, 'drums/b.wav', 'bytes=0-99')).to).toBe(100);

    expect(await takeFromPlace(placeId, { paths: ['drums'] })).toMatchObject({ files: 2 });
    await bringAll();
    expect((await listLongTasks())[0]).toMatchObject({ state: 'done', done: 2, failed: 0 });
    expect((await lookInto(placeId, 'drums')).files.every(({ takenIn }) => takenIn)).toBe(true);
    await expect(takeFromPlace(placeId, { paths: [''] })).rejects.toThrow('imported already');
    // A changed file is new again.
    utimesSync(join(root, 'drums', 'b.wav'), new Date(), new Date(Date.now() + 5000));
    expect(await takeFromPlace(placeId, { paths: [''] })).toMatchObject({ files: 1 });
  });

  test('what was measured of a file that was heard is known by what it holds', async () => {
    const { placeId } = await keepPlace({ path: root });
    const brush = 'drums/Brush 96,5 bpm.wav';
    expect(await measuredInside(placeId, brush)).toBeNull();
    await expect(keepMeasured(placeId, brush, { kind: 'loop' })).rejects.toThrow(z.ZodError);
    await expect(measuredInside(placeId, 'way-out/passwd')).rejects.toThrow('outside');
    const found = (await readEntry(await measuredLoop())).measurement!;
    await keepMeasured(placeId, brush, found);
    expect(await measuredInside(placeId, brush)).toEqual(found);
    // Under another name it is the same, with other sound it is not.
    copyFileSync(join(root, brush), join(root, 'copy.wav'));
    expect(await measuredInside(placeId, 'copy.wav')).toEqual(found);
    writeFileSync(join(root, 'copy.wav'), drumFile({ bpm: 131, bars: 1 }));
    expect(await measuredInside(placeId, 'copy.wav')).toBeNull();
    // What the library knows of the same bytes is known here.
    await takeFromPlace(placeId, { paths: ['drums/b.wav'] });
    await bringAll();
    await measureAll();
    expect((await measuredInside(placeId, 'drums/b.wav'))!.tempo!.bpm).toBeCloseTo(100, 1);
  });

  test('only what lies below the opened folders is kept, and nothing of the system or of Grento itself', async () => {
    const before = process.env.GRENTO_ROOTS;
    const data = mkdtempSync(join(tmpdir(), 'grento-own-'));
    mkdirSync(join(data, 'log'));
    process.env.GRENTO_DATA = data;
    try {
      const keep = (path: string) => keepPlace({ path });
      process.env.GRENTO_ROOTS = '/';
      await expect(keep('/')).rejects.toThrow('it is the whole file system');
      for (const path of ['/etc', '/usr/share', '/proc'])
        await expect(keep(path)).rejects.toThrow('it belongs to the system');
      for (const path of [data, join(data, 'log'), tmpdir()])
        await expect(keep(path)).rejects.toThrow('Grento stores its own data there');
      process.env.GRENTO_ROOTS = join(root, 'drums');
      await expect(keep(root)).rejects.toThrow(
        /is outside the folders .* Allowed are folders below “.*drums”/,
      );
      const { placeId } = await keep(join(root, 'drums'));
      expect((await lookInto(placeId, '')).files).toHaveLength(2);
      // Closed later, what was kept is closed, too.
      process.env.GRENTO_ROOTS = join(root, 'elsewhere');
      for (const look of [() => lookInto(placeId, ''), () => placeFile(placeId, 'b.wav', null)])
        await expect(look()).rejects.toThrow('is outside the folders');
    } finally {
      process.env.GRENTO_ROOTS = before;
      delete process.env.GRENTO_DATA;
      rmSync(data, { recursive: true });
    }
  });

  test('pipes are no files, and other files are not given out', async () => {
    const { placeId } = await keepPlace({ path: root });
    expect((await lookInto(placeId, 'drums')).files.map(({ name }) => name)).not.toContain('pipe.wav');
    const asked = [
      () => peekInto(placeId, 'drums/pipe.wav'),
      () => placeFile(placeId, 'drums/pipe.wav', null),
      () => placeFile(placeId, 'readme.txt', null),
      () => takeFromPlace(placeId, { paths: ['readme.txt'] }),
    ];
    for (const ask of asked) await expect(ask()).rejects.toThrow(/is not a file|is not named as audio/);
    // Others are still looked into.
    expect((await peekInto(placeId, 'drums/b.wav')).fault).toBeNull();
  });

  test('nothing outside is shown, also not behind a link', async () => {
    const { placeId } = await keepPlace({ path: root });
    for (const path of ['..', '../..', 'way-out', 'way-out/passwd', 'drums/../../x'])
      await expect(lookInto(placeId, path)).rejects.toThrow(/outside|no longer there/);
    await expect(takeFromPlace(placeId, { paths: ['way-out'] })).rejects.toThrow('outside');
    await expect(placeFile(placeId, 'way-out/passwd', null)).rejects.toThrow('outside');
  });
});

describe('deliveries', () => {
  let service: ChildProcess;
  beforeAll(async () => {
    const port = await new Promise<number>((resolve) => {
      const probe = createServer().listen(0, '127.0.0.1', () => {
        const { port: free } = probe.address() as { port: number };
        probe.close(() => resolve(free));
      });
    });
    service = spawn(process.execPath, ['build/service.mjs', String(port)], { stdio: 'ignore' });
    process.env.GRENTO_DELIVERY = `http://127.0.0.1:${port}`;
    for (let tries = 0; tries < 100; tries++) {
      if (await deliveryOffers().catch(() => null)) return;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  }, 60_000);
  afterAll(() => {
    service.kill();
    delete process.env.GRENTO_DELIVERY;
  });

  test('a pack comes in whole although the line breaks off again and again', async () => {
    const { packs } = await deliveryOffers();
    const [pack] = packs;
    await setMoodOfDelivery({ bytesPerSecond: null, breaksOff: 0.6 });
    const wanted = pack.files.slice(0, 4).map(({ path }) => path);
    await fetchPack({ packId: pack.packId, paths: wanted });
    await bringAll();
    await setMoodOfDelivery({ bytesPerSecond: null, breaksOff: 0 });
    let [task] = await listLongTasks();
    // What broke off six times is tried again on demand.
    if (task.failed > 0) {
      await directTask(task.taskId, { do: 'retry' });
      await bringAll();
      [task] = await listLongTasks();
    }
    expect(task).toMatchObject({ state: 'done', done: 4, failed: 0 });
    const { rows } = await database().query(
      'select s.name, o.byte_length as length from samples s join originals o using (original_id) order by s.name',
    );
    const byName = new Map(pack.files.map(({ path, byteLength }) => [path.split('/').pop(), byteLength]));
    for (const { name, length } of rows) expect(length).toBe(byName.get(name));
    // Fetched again, nothing is stored twice.
    await fetchPack({ packId: pack.packId, paths: wanted });
    await bringAll();
    expect((await database().query('select count(*) as n from samples')).rows[0].n).toBe(4);
  }, 120_000);

  test('a long task is paused, cancelled, and says when the service is gone', async () => {
    const { packs } = await deliveryOffers();
    const { taskId } = await fetchPack({ packId: packs[0].packId });
    await directTask(taskId, { do: 'pause' });
    await bringAll();
    expect((await listLongTasks())[0]).toMatchObject({ state: 'paused', done: 0 });
    await directTask(taskId, { do: 'resume' });
    await directTask(taskId, { do: 'cancel' });
    await expect(directTask(taskId, { do: 'pause' })).rejects.toThrow('has ended');
    await directTask(taskId, { do: 'forget' });
    expect(await listLongTasks()).toEqual([]);
    await expect(fetchPack({ packId: 'no-such-pack' })).rejects.toThrow('no longer offers');
  });
});
