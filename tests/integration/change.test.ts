import pg from 'pg';
import { randomUUID } from 'node:crypto';
import { makeBlend, changeBlend } from '@/server/blends';
import type { BulkAction } from '@/contract/orders';
import { ANYBODY, changeInside, changeSample, changeSamples } from '@/server/change';
import { bulkStepsNow, doInBulk, redoBulk, undoBulk } from '@/server/change/bulk';
import { curatorNamed, curatorsNow, renameCurator } from '@/server/curators';
import { browseTargets } from '@/server/browse';
import { readEntry } from '@/server/entry';
import { asSent } from '@/server/once';
import { changeSet, joinStems, stemSets } from '@/server/stemSets';
import { closeDatabase, database, transaction } from '@/store/database';
import { allDoubtWords } from '@/words/doubts';
import { drumFile } from '../support/files';
import {
  ask,
  askNow,
  bring,
  emptyLibrary,
  inBulk,
  measureAll,
  measuredLoop,
  prove,
  setInBin,
  settle,
  step,
} from '../support/library';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

/** So many short measured samples. */
async function measuredMany(count: number, folder = ''): Promise<string[]> {
  const ids: string[] = [];
  for (let i = 0; i < count; i++)
    ids.push((await bring(`${i}.wav`, drumFile({ bpm: 100, bars: 1, seed: 100 + i }), folder)).sampleId);
  await measureAll();
  return ids;
}

const tempo = async (sampleId: string) => (await readEntry(sampleId)).settled.grid!.tempoBpm;
const tempi = (ids: readonly string[]) => Promise.all(ids.map(tempo));

/** How many statements are sent to the database while something is done. */
async function statementsOf(work: () => Promise<unknown>): Promise<number> {
  const { query } = pg.Client.prototype;
  let count = 0;
  pg.Client.prototype.query = function (this: pg.Client, ...args: never[]) {
    count++;
    return (query as (...all: never[]) => never).apply(this, args);
  } as typeof query;
  try {
    await work();
  } finally {
    pg.Client.prototype.query = query;
  }
  return count;
}

describe('a stem set', () => {
  test('is doubled once however many of its stems are, and undone to where it was', async () => {
    const ids = await measuredMany(3);
    const setId = await joinStems({ sampleIds: ids, name: 'Three' }, ANYBODY);
    const [before] = await tempi(ids);
    const { stepId, done } = await inBulk({ do: 'scale', ratio: 2 }, ids);
    expect(done).toBe(3);
    expect(await tempi(ids)).toEqual([2 * before, 2 * before, 2 * before]);
    await undoBulk(stepId, ANYBODY);
    expect(await tempi(ids)).toEqual([before, before, before]);
    for (const id of ids)
      expect((await readEntry(id)).history.filter(({ abandoned }) => !abandoned).length).toBeLessThan(5);

    // From one stem, the others go with it, and come back with it.
    await askNow(ids[1], {
      do: 'settle',
      words: 'half',
      patch: { grid: { ...(await readEntry(ids[1])).settled.grid!, tempoBpm: before / 2 } },
    });
    expect(await tempi(ids)).toEqual([before / 2, before / 2, before / 2]);
    await step(ids[1], 'undo');
    expect(await tempi(ids)).toEqual([before, before, before]);
    await step(ids[0], 'redo');
    expect(await tempi(ids)).toEqual([before / 2, before / 2, before / 2]);
    await step(ids[0], 'undo');

    // What a stem shares since it was joined is parted on the set, not undone on one stem.
    await expect(step(ids[1], 'undo')).rejects.toThrow('split the set');
    await changeSet(setId, { state: 'refused' }, ANYBODY);
    expect((await readEntry(ids[1])).settled.kind).toBeNull();
  });

  test('each screen undoes its own steps, the newest first, and does them again until something else is done', async () => {
    const ids = await measuredMany(2);
    const targets = ids.map((sampleId) => ({ sampleId, base: null }));
    const [before] = await tempi(ids);
    const scaled = (screen: 'intake' | 'shelf', ratio: number) =>
      doInBulk({ order: { do: 'scale', ratio }, targets, screen }, ANYBODY);
    await scaled('intake', 2);
    const shelf = await scaled('shelf', 2);
    expect((await bulkStepsNow('bench')).undo).toBeNull();
    const { undo } = await bulkStepsNow('shelf');
    expect(undo).toMatchObject({ stepId: shelf.stepId, words: 'double tempo' });
    await undoBulk(undo!.stepId, ANYBODY);
    expect(await tempi(ids)).toEqual([2 * before, 2 * before]);
    const { redo } = await bulkStepsNow('shelf');
    expect(redo).toMatchObject({ stepId: shelf.stepId });
    expect((await bulkStepsNow('intake')).redo).toBeNull();
    await redoBulk(redo!.stepId, ANYBODY);
    expect(await tempi(ids)).toEqual([4 * before, 4 * before]);
    await expect(redoBulk(redo!.stepId, ANYBODY)).rejects.toThrow('redone already');
    await undoBulk(shelf.stepId, ANYBODY);
    // Something else is done on that screen: what was undone stays so.
    await doInBulk({ order: { do: 'bin' }, targets: [targets[0]], screen: 'shelf' }, ANYBODY);
    expect((await bulkStepsNow('shelf')).redo).toBeNull();
    // The bin, and back, and into it again.
    const binned = (await bulkStepsNow('shelf')).undo!.stepId;
    const isBinned = async () =>
      (await database().query('select binned_at from settled where sample_id = $1', [ids[0]])).rows[0]
        .binned_at !== null;
    await undoBulk(binned, ANYBODY);
    expect(await isBinned()).toBe(false);
    await redoBulk(binned, ANYBODY);
    expect(await isBinned()).toBe(true);
  });

  test('another giver gives its own grid, not what it was given; parted, every stem has its own again', async () => {
    // The same drums, the second of them begun later: its own one is elsewhere.
    const files = [
      drumFile({ bpm: 100, bars: 8, one: 0.2, seed: 1 }),
      drumFile({ bpm: 100, bars: 8, one: 0.5, seed: 2 }),
      drumFile({ bpm: 100, bars: 8, one: 0.5, seed: 3 }),
    ];
    const ids: string[] = [];
    for (const [i, bytes] of files.entries())
      ids.push((await bring(`Stem ${i}.wav`, bytes, 'Loft')).sampleId);
    await measureAll();
    const ones = async () => Promise.all(ids.map(async (id) => (await readEntry(id)).settled.grid!.one));
    const own = await ones();
    expect(Math.abs(own[0] - own[1])).toBeGreaterThan(0.2);
    const setId = await joinStems({ sampleIds: ids, name: 'Three' }, ANYBODY);
    // Two that agree outweigh the third.
    const [set] = await stemSets();
    expect(set.members.find(({ givesGrid }) => givesGrid)!.sampleId).not.toBe(ids[0]);
    expect(set.members.find(({ sampleId }) => sampleId === ids[0])!.ownOneMs).toBeCloseTo(
      1000 * (own[0] - own[1]),
      -1,
    );
    const given = (await ones())[0];
    expect(await ones()).toEqual([given, given, given]);
    await changeSet(setId, { gridFrom: ids[0] }, ANYBODY);
    expect(await ones()).toEqual([own[0], own[0], own[0]]);
    await changeSet(setId, { gridFrom: ids[2] }, ANYBODY);
    expect(await ones()).toEqual([own[2], own[2], own[2]]);
    await changeSet(setId, { state: 'refused' }, ANYBODY);
    expect(await ones()).toEqual(own);
  });

  test('one that somebody leaves or that is binned tells its stems again', async () => {
    const ids = await measuredMany(3);
    const setId = await joinStems({ sampleIds: ids, name: 'Three' }, ANYBODY);
    const told = async (id: string) =>
      (await readEntry(id)).readings.filter(({ source, superseded }) => source === 'stem set' && !superseded)
        .length;
    const [set] = await stemSets();
    const giver = set.members.find(({ givesGrid }) => givesGrid)!.sampleId;
    const [other, third] = ids.filter((id) => id !== giver);
    expect(await told(other)).toBeGreaterThan(0);
    // The one that speaks goes into the bin: another one speaks.
    await setInBin(giver, true);
    const [now] = await stemSets();
    expect(now.members.map(({ sampleId }) => sampleId).sort()).toEqual([other, third].sort());
    expect(now.members.filter(({ givesGrid }) => givesGrid)).toHaveLength(1);
    expect(await told(giver)).toBe(0);
    await setInBin(giver, false);
    expect((await stemSets())[0].members).toHaveLength(3);
    expect(await told(giver)).toBeGreaterThan(0);
    // Joined with another sample, the set that is left behind is told nothing by who left.
    await joinStems({ sampleIds: [giver, other], name: 'Two' }, ANYBODY);
    expect(await told(third)).toBe(0);
    expect((await readEntry(third)).summary.stemSet?.setId).toBe(setId);
  });

  test('a settle costs no more than twelve statements, solo and in a set of twelve', async () => {
    const [alone] = await measuredMany(1, 'solo');
    const cost = async (id: string) => {
      const { sequence, settled } = await readEntry(id);
      const grid = { ...settled.grid!, tempoBpm: settled.grid!.tempoBpm + 0.1 };
      const reading = {
        property: 'tempo',
        value: grid.tempoBpm,
        source: 'typed',
        sureness: 0.9,
        detail: '',
      } as const;
      return statementsOf(() => settle(id, { base: sequence, words: 'typed', patch: { grid }, reading }));
    };
    expect(await cost(alone)).toBeLessThanOrEqual(12);
    const ids = await measuredMany(12, 'set');
    await joinStems({ sampleIds: ids, name: 'Twelve' }, ANYBODY);
    expect(await cost(ids[3])).toBeLessThanOrEqual(12);
    expect(new Set(await tempi(ids)).size).toBe(1);
    expect(await statementsOf(() => inBulk({ do: 'scale', ratio: 2 }, ids))).toBeLessThanOrEqual(14);
  });
});

describe('many at once', () => {
  test('what somebody changed meanwhile is refused by name, the rest is done and can be undone', async () => {
    const ids = await measuredMany(5);
    const targets = await browseTargets(new URLSearchParams());
    const before = await tempi(ids);
    const { curatorId } = await curatorNamed({ name: 'Odo Finch' });
    for (const id of ids.slice(0, 2))
      await askNow(id, { do: 'settle', words: 'noted', patch: { note: 'mine' } }, curatorId);
    const result = await doInBulk({ order: { do: 'scale', ratio: 0.5 }, targets }, ANYBODY);
    expect(result.done).toBe(3);
    expect(result.refused).toHaveLength(2);
    expect(result.refused[0].why).toMatch(/changed elsewhere.*by Odo Finch \(“noted”\)/);
    expect((await tempi(ids)).map((bpm, i) => bpm / before[i])).toEqual([1, 1, 0.5, 0.5, 0.5]);
    expect(await undoBulk(result.stepId, ANYBODY)).toMatchObject({ undone: 3, refused: [] });
    expect(await tempi(ids)).toEqual(before);
  });

  test('twenty requests at the same samples do not wait for each other for ever', async () => {
    const ids = await measuredMany(4);
    const words = Array.from({ length: 20 }, (_, i) => `word${i}`);
    const results = await Promise.all(
      words.map((value, i) =>
        inBulk({ do: 'tags', add: [{ facet: 'word', value }], remove: [] }, i % 2 ? ids : [...ids].reverse()),
      ),
    );
    expect(results.every(({ done }) => done === 4)).toBe(true);
    for (const id of ids) expect((await readEntry(id)).settled.tags).toHaveLength(20);
  }, 60_000);

  test('nothing asks the pool while it holds a client', async () => {
    await expect(transaction(async () => void (await database().query('select 1')))).rejects.toThrow(
      'has a client of its own',
    );
  });
});

describe('curators', () => {
  test('one is there from the start; the first who signs gives it a name, another name makes another', async () => {
    expect(await curatorsNow()).toMatchObject([{ named: false }]);
    const ada = await curatorNamed({ name: ' Ada Wilmot ' });
    expect(ada).toMatchObject({ name: 'Ada Wilmot', initials: 'AW', named: true });
    expect(await curatorNamed({ name: 'ada wilmot' })).toEqual(ada);
    const odo = await curatorNamed({ name: 'Odo Finch-Penhallow' });
    expect(odo.initials).toBe('OFP');
    expect(await curatorsNow()).toHaveLength(2);
    await expect(renameCurator(odo.curatorId, { name: 'ADA WILMOT' })).rejects.toThrow('already');
    expect(await renameCurator(odo.curatorId, { name: 'Odo Finch' })).toMatchObject({ initials: 'OF' });
  });

  test('who made a step stands on it, and somebody else takes it back only when that is meant', async () => {
    const sampleId = await measuredLoop();
    const ada = (await curatorNamed({ name: 'Ada Wilmot' })).curatorId;
    const odo = (await curatorNamed({ name: 'Odo Finch' })).curatorId;
    const noted = await askNow(sampleId, { do: 'settle', words: 'noted', patch: { note: 'wet' } }, ada);
    expect(noted.history.map(({ madeBy }) => (madeBy === 'measurement' ? madeBy : madeBy?.name))).toEqual([
      'measurement',
      'Ada Wilmot',
    ]);
    await expect(step(sampleId, 'undo', odo)).rejects.toMatchObject({
      message: 'The last step, “noted”, is Ada Wilmot’s.',
      code: 'foreign',
      status: 409,
    });
    await expect(ask(sampleId, 1, { do: 'undo' }, ada)).rejects.toThrow('changed elsewhere');
    const back = await askNow(sampleId, { do: 'undo', evenForeign: true }, odo);
    expect(back.settled.note).toBe('');

    const { stepId } = await inBulk(
      { do: 'tags', add: [{ facet: 'word', value: 'x' }], remove: [] },
      [sampleId],
      ada,
    );
    await expect(undoBulk(stepId, odo)).rejects.toMatchObject({ code: 'foreign' });
    expect(await undoBulk(stepId, odo, true)).toMatchObject({ undone: 1 });
  });

  test('a proof is signed with a name', async () => {
    const sampleId = await measuredLoop();
    await expect(askNow(sampleId, { do: 'prove', verdict: 'on', heard: [] })).rejects.toThrow('needs a name');
  });
});

describe('one rule for what is proved', () => {
  test('a nudge of five microseconds is none, one of a millisecond is', async () => {
    const sampleId = await measuredLoop();
    const { sequence } = await readEntry(sampleId);
    await prove(sampleId, { base: sequence, verdict: 'on', signedBy: 'Ada', heard: [] });
    const nudge = async (seconds: number) => {
      const { settled } = await readEntry(sampleId);
      const grid = { ...settled.grid!, one: settled.grid!.one + seconds };
      return (await askNow(sampleId, { do: 'settle', words: 'nudged', patch: { grid } })).summary;
    };
    expect(await nudge(5e-6)).toMatchObject({ standing: 'proved', proof: 'current' });
    expect(await nudge(1e-3)).toMatchObject({ standing: 'measured', proof: 'lost' });
  });

  test('“late” after “on” unproves, “on” after “late” proves again', async () => {
    const sampleId = await measuredLoop();
    const say = async (verdict: 'on' | 'late') => {
      const { sequence } = await readEntry(sampleId);
      return (await prove(sampleId, { base: sequence, verdict, signedBy: 'Ada', heard: [] })).summary;
    };
    expect(await say('on')).toMatchObject({ standing: 'proved', proof: 'current' });
    expect(await say('late')).toMatchObject({ standing: 'measured', proof: 'lost' });
    expect(await say('on')).toMatchObject({ standing: 'proved', proof: 'current' });
  });
});

describe('twins', () => {
  const bytes = drumFile({ bpm: 100, bars: 2 });

  test('one in the bin is no twin any more, and is one again when it comes back', async () => {
    const first = await bring('one.wav', bytes);
    const second = await bring('two.wav', bytes);
    await measureAll();
    const doubts = async () => allDoubtWords((await readEntry(second.sampleId)).summary.todos);
    expect(await doubts()).toContain('same bytes as “one.wav”');
    await setInBin(first.sampleId, true);
    expect(await doubts()).toEqual([]);
    await setInBin(first.sampleId, false);
    expect(await doubts()).toContain('same bytes as “one.wav”');
    await inBulk({ do: 'rename', template: 'three' }, [first.sampleId]);
    expect(await doubts()).toContain('same bytes as “three.wav”');
  });

  test('a file that lies in the bin is offered for restoring, with its work, instead of imported again', async () => {
    const first = await bring('one.wav', bytes);
    await measureAll();
    await askNow(first.sampleId, { do: 'settle', words: 'noted', patch: { note: 'hours of work' } });
    await setInBin(first.sampleId, true);
    const again = await bring('one.wav', bytes);
    expect(again).toMatchObject({
      outcome: 'in the bin',
      sampleId: first.sampleId,
      inBin: { sampleId: first.sampleId, name: 'one.wav' },
    });
    // Under another name it is a new sample, and says so.
    expect(await bring('other.wav', bytes)).toMatchObject({ outcome: 'new', inBin: { name: 'one.wav' } });
    await setInBin(first.sampleId, false);
    expect((await readEntry(first.sampleId)).settled.note).toBe('hours of work');
    expect(await bring('one.wav', bytes)).toMatchObject({
      outcome: 'already here',
      sampleId: first.sampleId,
    });
  });
});

describe('bounds', () => {
  test.each<[string, (grid: { one: number; tempoBpm: number }) => object, RegExp]>([
    ['a one far outside of the audio', (grid) => ({ grid: { ...grid, one: 500 } }), /more than 60 s outside/],
    ['beats that fall', (grid) => ({ grid: { ...grid, movingBeats: [0.2, 1, 0.9] } }), /must ascend/],
    [
      'pins out of order',
      () => ({
        pins: [
          { beat: 4, time: 2 },
          { beat: 8, time: 1 },
        ],
      }),
      /out of order/,
    ],
    [
      'a reading of nobody',
      () => ({ chosen: { tempo: '00000000-0000-4000-8000-000000000000' } }),
      /does not belong to this sample/,
    ],
    [
      'a time signature of fifths',
      (grid) => ({ grid: { ...grid, meter: { beatsPerBar: 3, beatUnit: 5 } } }),
      /32nd notes/,
    ],
    [
      'a loop without bars',
      () => ({ grid: null, loop: { bar: 1, bars: 1, shiftSeconds: 0 } }),
      /there is no grid/,
    ],
  ])('%s is refused with a sentence', async (_, patchOf, words) => {
    const sampleId = await measuredLoop();
    const { settled, sequence } = await readEntry(sampleId);
    const patch = patchOf(settled.grid!);
    await expect(async () => settle(sampleId, { base: sequence, words: 'x', patch })).rejects.toThrow(words);
    expect((await readEntry(sampleId)).sequence).toBe(sequence);
  });

  test('what is not there is said for each', async () => {
    const nobody = '00000000-0000-4000-8000-000000000000';
    const { done, refused } = await changeSamples(
      { do: 'save' },
      [{ sampleId: nobody, base: null }],
      ANYBODY,
    );
    expect([done, refused]).toEqual([[], [expect.objectContaining({ refusal: { code: 'no such sample' } })]]);
  });
});

describe('sent again under the same id', () => {
  const note = (text: string) =>
    ({ do: 'settle', words: text, patch: { note: text }, reading: null }) as const;

  test('a change is done once and answered as it was, also at the same moment', async () => {
    const sampleId = await measuredLoop();
    const { sequence: base } = await readEntry(sampleId);
    const id = randomUUID();
    const send = () => asSent(id, () => changeSample(note('once'), { sampleId, base }, ANYBODY));
    const answers = [...(await Promise.all([send(), send()])), await send()];
    expect(answers.map(({ sequence }) => sequence)).toEqual([base! + 1, base! + 1, base! + 1]);
    // Under another id it is another change, and its base is not what is there.
    await expect(changeSample(note('twice'), { sampleId, base }, ANYBODY)).rejects.toThrow(/changed/);
    // What was refused was not done: it may be sent again.
    const refused = randomUUID();
    const late = (to: number | null) =>
      asSent(refused, () => changeSample(note('late'), { sampleId, base: to }, ANYBODY));
    await expect(late(base)).rejects.toThrow(/changed/);
    expect((await late(base! + 1)).settled.note).toBe('late');
  });

  test('a portion of a bulk step, and an order of a blend', async () => {
    const ids = await measuredMany(3);
    const [id, stepName] = [randomUUID(), randomUUID()];
    const send = () =>
      asSent(id, () =>
        doInBulk(
          {
            order: { do: 'scale', ratio: 2 },
            targets: ids.map((sampleId) => ({ sampleId, base: null })),
            step: stepName,
          },
          ANYBODY,
        ),
      );
    const first = await send();
    expect(await send()).toEqual(first);
    expect(first.done).toBe(3);
    for (const bpm of await tempi(ids)) expect(bpm).toBeCloseTo(200, 0);
    const { undone, left } = await undoBulk(first.stepId, ANYBODY);
    expect([undone, left]).toEqual([3, 0]);
    for (const bpm of await tempi(ids)) expect(bpm).toBeCloseTo(100, 0);

    const { id: blendId } = await makeBlend({ name: 'Rain' }, ANYBODY);
    const order = { do: 'order', words: 'called', order: { do: 'set', patch: { name: 'Hail' } } };
    const once = randomUUID();
    const call = () => asSent(once, () => changeBlend(blendId, order, ANYBODY));
    expect((await call()).sequence).toBe(1);
    expect((await call()).sequence).toBe(1);
  });
});

test('undoing a step goes on where it stopped', async () => {
  const ids = await measuredMany(4);
  const { stepId } = await inBulk({ do: 'bin' }, ids);
  // 200 are undone at once: the last one comes in a second portion.
  await database().query(
    `insert into bulk_step_items (step_id, sample_id) select $1, gen_random_uuid() from generate_series(1, 210)`,
    [stepId],
  );
  await database().query(
    `insert into bulk_step_items (step_id, sample_id, binned) select step_id, sample_id, binned from bulk_step_items
      where step_id = $1 and sample_id = $2`,
    [stepId, ids[3]],
  );
  await database().query(
    'delete from bulk_step_items where position = (select min(position) from bulk_step_items where sample_id = $1)',
    [ids[3]],
  );
  await database().query(
    `create function refuse() returns trigger language plpgsql as $$ begin
       if new.sample_id = '${ids[3]}' then raise 'locked' using errcode = '55P03'; end if; return new; end $$;
     create trigger refusing before update on settled for each row execute function refuse()`,
  );
  const binned = async () =>
    (await database().query('select count(*) as n from settled where binned_at is not null')).rows[0].n;
  try {
    await expect(undoBulk(stepId, ANYBODY)).rejects.toThrow('busy');
    expect(await binned()).toBe(1);
  } finally {
    await database().query('drop function refuse cascade');
  }
  const { undone, left } = await undoBulk(stepId, ANYBODY);
  expect([undone, left]).toEqual([1, 0]);
  expect(await binned()).toBe(0);
  await expect(undoBulk(stepId, ANYBODY)).rejects.toThrow('undone already');
});

test('what is changed without reading what was measured leaves the same rows as if it had been read', async () => {
  const ids = await measuredMany(3);
  const twin = (await bring('twin.wav', drumFile({ bpm: 100, bars: 1, seed: 100 }), 'elsewhere')).sampleId;
  const doubtful = (await bring('Slow 200 bpm.wav', drumFile({ bpm: 100, bars: 4, one: 0.2, seed: 3 })))
    .sampleId;
  await measureAll();
  const all = [...ids, twin, doubtful];
  const rows = async () =>
    (await database().query('select * from settled order by sample_id')).rows.map(
      ({ said_by: _, ...row }) => row,
    );
  const renewed = () => transaction((client) => changeInside(client, { do: 'renew' }, all, null)).then(rows);
  const [first, second] = ids;
  const steps: [BulkAction, string[]][] = [
    [
      {
        do: 'tags',
        add: [
          { facet: 'part', value: 'drums' },
          { facet: 'word', value: 'attic' },
        ],
        remove: [],
      },
      all,
    ],
    [
      { do: 'write', patch: { rating: 4, origin: 'Pellworth', licence: 'free', note: 'rope' } },
      [first, doubtful],
    ],
    [{ do: 'bin' }, [first]],
    [{ do: 'restore' }, [first]],
    [{ do: 'bin' }, [second, twin]],
  ];
  for (const [order, of] of steps) {
    expect((await inBulk(order, of)).done).toBeGreaterThan(0);
    const light = await rows();
    expect(light).toEqual(await renewed());
  }
  for (const saved of [true, false]) {
    await askNow(doubtful, { do: saved ? 'save' : 'unsave' });
    const light = await rows();
    expect(light).toEqual(await renewed());
  }
  const { rows: stored } = await database().query('select doubts from settled where sample_id = $1', [
    doubtful,
  ]);
  expect(stored[0].doubts).toContainEqual(expect.objectContaining({ code: 'tempo disagrees' }));
});
