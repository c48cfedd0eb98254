import { laneFactsOf } from '@/library/blend/parts';
import { type Blend, type BlendOrder, type KeptBlend, type LaneInput, newLane } from '@/contract/blend';
import type { MixRequest } from '@/contract/mix';
import { readMidi } from '@/core/formats/midi';
import { decodeAudio } from '@/core/formats/decode';
import {
  binBlend,
  blendNow,
  blendsNow,
  changeBlend,
  makeBlend,
  makeMixes,
  scoreNow,
  tempoMapFile,
} from '@/server/blends';
import { ANYBODY } from '@/server/change';
import { doInBulk } from '@/server/change/bulk';
import { browseShelf } from '@/server/browse';
import { readEntry } from '@/server/entry';
import { familyOf } from '@/server/renders';
import { stemSets } from '@/server/stemSets';
import { taggedCopy } from '@/server/taggedCopy';
import { giveBack, tasksNow } from '@/server/tasks';
import { closeDatabase, database } from '@/store/database';
import { readOriginal } from '@/store/originalBytes';
import { inBlocks } from '../support/bytes';
import { drumFile } from '../support/files';
import { askNow, bring, emptyLibrary, measureAll, mixAll } from '../support/library';
import { probed } from '../support/readers';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

/** A measured loop whose first sample is its first beat. */
async function loop(name: string, bpm: number, bars = 2): Promise<string> {
  const { sampleId } = await bring(name, drumFile({ bpm, bars, one: 0, seed: Math.round(bpm) }));
  await measureAll();
  await askNow(sampleId, {
    do: 'settle',
    words: 'what the pack is',
    patch: {
      kind: 'loop',
      grid: { tempoBpm: bpm, one: 0, meter: { beatsPerBar: 4, beatUnit: 4 }, movingBeats: null },
    },
  });
  return sampleId;
}

const order = (kept: KeptBlend, one: BlendOrder, words = 'changed') =>
  changeBlend(kept.id, { do: 'order', words, order: one }, ANYBODY);

const lane = (laneId: string, sampleId: string, more: Partial<LaneInput> = {}) =>
  newLane({ laneId, sampleId, name: `${laneId}.wav`, times: null, ...more });

/** A blend of two loops at 88.402 BPM; the first leads. */
async function blendOfTwo(): Promise<{ kept: KeptBlend; ids: string[] }> {
  const ids = [await loop('first.wav', 88.402), await loop('second.wav', 117, 4)];
  let kept = await makeBlend({ name: 'Rain' }, ANYBODY);
  const takes = { tempoBpm: 88.402, key: null, meter: { beatsPerBar: 4, beatUnit: 4 }, movement: null };
  kept = await order(kept, { do: 'put', lane: lane('a', ids[0]), leads: true, takes }, 'put “first.wav” in');
  kept = await order(
    kept,
    { do: 'put', lane: lane('b', ids[1]), leads: false, takes: null },
    'put “second.wav” in',
  );
  return { kept, ids };
}

async function pcmOf(sampleId: string): Promise<{ channels: Float32Array[]; rate: number }> {
  const { rows } = await database().query(
    'select o.original_id as id, o.byte_length as length from samples join originals o using (original_id) where sample_id = $1',
    [sampleId],
  );
  const parts: Uint8Array[] = [];
  for await (const part of readOriginal(rows[0].id, 0, rows[0].length)) parts.push(part);
  const blocks: Float32Array[][] = [];
  const { sampleRate } = await decodeAudio(
    () => inBlocks(Buffer.concat(parts)),
    (block) => void blocks.push(block.map((one) => one.slice())),
  );
  return {
    rate: sampleRate,
    channels: [0, 1].map((c) => Float32Array.from(blocks.flatMap((block) => [...block[c]]))),
  };
}

async function madeOf(kept: KeptBlend, request: Partial<MixRequest>) {
  await makeMixes(kept.id, request, ANYBODY);
  await mixAll();
  const { tasks } = await tasksNow();
  const { rows } = await browseShelf(new URLSearchParams({ sort: 'saved', direction: 'up', limit: '50' }));
  return { task: tasks.find(({ kind }) => kind === 'mix')!, rows };
}

test('a blend is kept with every step of it, which can be undone and redone', async () => {
  const { kept } = await blendOfTwo();
  expect(kept).toMatchObject({ sequence: 2, undo: 'put “second.wav” in', redo: null });
  const louder = await order(
    kept,
    { do: 'lanes', patches: [{ laneId: 'b', patch: { levelDb: -3 } }] },
    'quieter',
  );
  expect(louder.state.lanes[1]).toMatchObject({ levelDb: -3, laneId: 'b' });
  const back = await changeBlend(kept.id, { do: 'undo' }, ANYBODY);
  expect(back).toMatchObject({ sequence: 2, state: kept.state, redo: 'quieter' });
  expect((await changeBlend(kept.id, { do: 'redo' }, ANYBODY)).state).toEqual(louder.state);
  for (let step = 0; step < 3; step++) await changeBlend(kept.id, { do: 'undo' }, ANYBODY);
  expect(await blendNow(kept.id)).toMatchObject({ state: { lanes: [] }, undo: null });
  await expect(changeBlend(kept.id, { do: 'undo' }, ANYBODY)).rejects.toThrow('nothing to undo');
  // A new step ends what could be redone.
  expect(await order(kept, { do: 'set', patch: { name: 'Snow' } })).toMatchObject({
    redo: null,
    state: { name: 'Snow' },
  });
});

test('what two change at once both stands; what is gone is refused in words', async () => {
  const { kept } = await blendOfTwo();
  await Promise.all([
    order(kept, { do: 'lanes', patches: [{ laneId: 'a', patch: { pan: -0.5 } }] }),
    order(kept, { do: 'lanes', patches: [{ laneId: 'b', patch: { pan: 0.5 } }] }),
    order(kept, { do: 'set', patch: { tempoBpm: 90 } }),
  ]);
  const { state } = await blendNow(kept.id);
  expect(state).toMatchObject({ tempoBpm: 90, lanes: [{ pan: -0.5 }, { pan: 0.5 }] });
  await order(kept, { do: 'take', laneId: 'b' });
  await expect(order(kept, { do: 'lanes', patches: [{ laneId: 'b', patch: { pan: 0 } }] })).rejects.toThrow(
    'removed meanwhile',
  );
  await expect(order(kept, { do: 'set', patch: { tempoBpm: 4000 } })).rejects.toThrow();
  await expect(blendNow('00000000-0000-4000-8000-000000000000')).rejects.toThrow('no such blend');
});

test('blends are listed, copied, deleted and undone', async () => {
  const { kept } = await blendOfTwo();
  const copy = await makeBlend({ copyOf: kept.id }, ANYBODY);
  expect(copy.state).toEqual({ ...kept.state, name: 'Rain, a copy' });
  expect((await blendsNow()).map(({ name, lanes, tempoBpm }) => [name, lanes.length, tempoBpm])).toEqual([
    ['Rain, a copy', 2, 88.402],
    ['Rain', 2, 88.402],
  ]);
  await binBlend(kept.id, true);
  expect(await blendsNow()).toHaveLength(1);
  await expect(blendNow(kept.id)).rejects.toThrow('was deleted');
  await binBlend(kept.id, false);
  expect((await blendNow(kept.id)).state).toEqual(kept.state);
});

test('a sample says which blends hold it, and whoever bins it is told', async () => {
  const { kept, ids } = await blendOfTwo();
  const copy = await makeBlend({ copyOf: kept.id }, ANYBODY);
  const blendsOf = async (sampleId: string) => (await familyOf(sampleId)).blends.map(({ id }) => id);
  expect(await blendsOf(ids[1])).toEqual([copy.id, kept.id]);
  // A lane that is taken away is not there any more; nor is a blend in the bin.
  await order(copy, { do: 'take', laneId: 'b' });
  expect(await blendsOf(ids[1])).toEqual([kept.id]);
  const binned = await doInBulk(
    { order: { do: 'bin' }, targets: ids.map((sampleId) => ({ sampleId, base: null })) },
    ANYBODY,
  );
  expect(binned.hanging).toEqual({ made: 0, blends: 2, packs: 0 });
  await binBlend(kept.id, true);
  expect(await blendsOf(ids[1])).toEqual([]);
  expect(await blendsOf(ids[0])).toEqual([copy.id]);
});

test('mix, stems from bar 1 and a click come onto the Shelf: of one length, adding up, with grid and recipe', async () => {
  const { kept } = await blendOfTwo();
  const outcomes = [
    { what: 'mix' as const },
    ...kept.state.lanes.map(({ laneId, name }) => ({ what: 'lane' as const, laneId, name })),
    { what: 'click' as const, countInBars: 1 },
  ];
  const { task, rows } = await madeOf(kept, { outcomes, format: 'wav 32 float', asSet: true });
  expect(task).toMatchObject({ state: 'done', done: 4, failed: 0 });
  expect(rows.map(({ name }) => name)).toEqual(['Rain', 'Rain, a', 'Rain, b', 'Rain, click']);
  const [mix, a, b, click] = await Promise.all(rows.map(({ sampleId }) => pcmOf(sampleId)));
  const bar = (4 * 60 * 44100) / 88.402;
  expect(mix.channels[0]).toHaveLength(Math.round(4 * bar));
  expect(a.channels[0]).toHaveLength(mix.channels[0].length);
  let apart = 0;
  for (let n = 0; n < mix.channels[0].length; n++)
    apart = Math.max(apart, Math.abs(mix.channels[0][n] - a.channels[0][n] - b.channels[0][n]));
  expect(apart).toBeLessThan(1e-6);
  // The lead is as it was recorded, to the bit, and comes again after two bars.
  const entry = await readEntry(kept.state.lanes[0].sampleId);
  const original = await pcmOf(entry.summary.sampleId);
  expect(a.channels[0].subarray(0, 5000)).toEqual(original.channels[0].subarray(0, 5000));
  expect(click.channels[0]).toHaveLength(Math.round(5 * bar));

  const made = await readEntry(rows[0].sampleId);
  expect(made.summary).toMatchObject({
    kind: 'loop',
    standing: 'saved',
    bars: 4,
    parent: { name: 'first.wav' },
  });
  expect(made.settled.grid).toMatchObject({ tempoBpm: 88.402, one: 0 });
  expect(made.settled.tags).toEqual([{ facet: 'part', value: 'full mix' }]);
  const { mixed } = await familyOf(rows[0].sampleId);
  expect(mixed).toMatchObject({
    blendId: kept.id,
    words: 'mix of the blend “Rain”',
    differences: { faults: [] },
  });
  expect(mixed!.differences.tempo!.measured).toBeCloseTo(88.402, 1);
  const clicked = await readEntry(rows[3].sampleId);
  expect(clicked.settled.grid!.one).toBeCloseTo((4 * 60) / 88.402, 6);
  const [set] = await stemSets();
  expect(set).toMatchObject({ name: 'Rain', state: 'joined' });
  expect(set.members.map(({ name }) => name).sort()).toEqual(['Rain, a', 'Rain, b']);
});

test('what fails after the lanes were made is redone without rendering them again', async () => {
  const { kept } = await blendOfTwo();
  const outcomes = kept.state.lanes.map(({ laneId, name }) => ({ what: 'lane' as const, laneId, name }));
  await makeMixes(kept.id, { outcomes, asSet: true }, ANYBODY);
  await database().query(
    `create function refuse() returns trigger language plpgsql as $$ begin raise 'torn'; end $$;
     create trigger refusing before insert on stem_sets execute function refuse()`,
  );
  try {
    await expect(mixAll()).rejects.toThrow('torn');
  } finally {
    await database().query('drop function refuse cascade');
  }
  const { rows } = await database().query("select task_id, lease from tasks where state = 'running'");
  await giveBack({ taskId: rows[0].task_id, lease: rows[0].lease }, 'torn');
  await mixAll();
  const made = await database().query('select name from settled where parent is not null order by name');
  expect(made.rows.map(({ name }) => name)).toEqual(['Rain, a', 'Rain, b']);
  expect(await stemSets()).toMatchObject([{ name: 'Rain', state: 'joined' }]);
});

test('a lane that was moved by hand has the key that it sounds in; a click with a count-in does not loop', async () => {
  const { kept, ids } = await blendOfTwo();
  await askNow(ids[1], { do: 'settle', words: 'key', patch: { key: { tonic: 9, mode: 'minor' } } });
  const moved = await order(kept, { do: 'lanes', patches: [{ laneId: 'b', patch: { semitones: 3 } }] });
  const outcomes: MixRequest['outcomes'] = [
    { what: 'lane', laneId: 'b', name: 'b.wav' },
    { what: 'click', countInBars: 2 },
    { what: 'click', countInBars: 0 },
  ];
  const { rows } = await madeOf(moved, { outcomes, format: 'wav 16' });
  expect(rows.map(({ kind }) => kind)).toEqual(['loop', 'song', 'loop']);
  expect((await readEntry(rows[0].sampleId)).settled.key).toEqual({ tonic: 0, mode: 'minor' });
  expect(rows[1].keyTonic).toBeNull();
});

test('what would be louder than full scale is made quieter, mix and stems alike', async () => {
  const { kept } = await blendOfTwo();
  const loud = await order(kept, {
    do: 'lanes',
    patches: ['a', 'b'].map((laneId) => ({ laneId, patch: { levelDb: 12 } })),
  });
  const { rows } = await madeOf(loud, {
    outcomes: [{ what: 'mix' }, { what: 'lane', laneId: 'a', name: 'a.wav' }],
    format: 'wav 24',
  });
  const [mix, a] = await Promise.all(rows.map(({ sampleId }) => pcmOf(sampleId)));
  const peak = (channel: Float32Array) => channel.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  expect(peak(mix.channels[0])).toBeGreaterThan(0.98);
  expect(peak(mix.channels[0])).toBeLessThanOrEqual(1);
  const { mixed } = await familyOf(rows[0].sampleId);
  const { quieterDb } = mixed!.differences;
  expect(quieterDb).toBeGreaterThan(3);
  const score = await scoreNow(loud.state);
  const source = await pcmOf(score.lanes[0].lane.sampleId);
  expect(20 * Math.log10(peak(source.channels[0]) / peak(a.channels[0]))).toBeCloseTo(quieterDb - 12, 1);
});

test('a muted lane is no part of what is written: lanes add up to the mix that was heard', async () => {
  const { kept } = await blendOfTwo();
  const muted = await order(kept, { do: 'lanes', patches: [{ laneId: 'b', patch: { muted: true } }] });
  const lanes = muted.state.lanes.map(({ laneId, name }) => ({ what: 'lane' as const, laneId, name }));
  await expect(makeMixes(kept.id, { outcomes: lanes }, ANYBODY)).rejects.toThrow(/is muted/);
  const { rows } = await madeOf(muted, { outcomes: [{ what: 'mix' }, lanes[0]], format: 'wav 32 float' });
  const [mix, a] = await Promise.all(rows.map(({ sampleId }) => pcmOf(sampleId)));
  expect(a.channels[0]).toEqual(mix.channels[0]);
});

test('with a pickup every file begins a bar before bar 1, and cues, tags and what is settled say where that is', async () => {
  const { kept } = await blendOfTwo();
  const early = await order(kept, { do: 'lanes', patches: [{ laneId: 'b', patch: { at: -1, times: 2 } }] });
  const lanes = early.state.lanes.map(({ laneId, name }) => ({ what: 'lane' as const, laneId, name }));
  const { rows } = await madeOf(early, { outcomes: [{ what: 'mix' }, ...lanes], format: 'wav 24' });
  const bar = (4 * 60) / 88.402;
  for (const { sampleId } of rows) {
    const { settled, summary } = await readEntry(sampleId);
    expect(settled.grid!.one).toBeCloseTo(bar, 6);
    // Bars are counted from bar 1; what stands before it, and what rings on, is none of them.
    expect(summary.bars).toBe((await scoreNow(early.state)).bars);
    const { bytes } = await taggedCopy(sampleId);
    const parts: Uint8Array[] = [];
    for await (const part of bytes) parts.push(part);
    const file = Buffer.concat(parts);
    expect((await probed('x.wav', file)).tags.COMMENT).toContain(`the one at ${bar.toFixed(4)} s`);
    expect(file.includes('Bar 1\0')).toBe(true);
  }
});

test('a sample in the bin stays in its blend; one that is not measured is silent and says so', async () => {
  const { kept, ids } = await blendOfTwo();
  await askNow(ids[1], { do: 'bin' });
  const score = await scoreNow(kept.state);
  expect(score.lanes.map(({ fault }) => fault)).toEqual([null, null]);
  const { sampleId } = await bring('later.wav', drumFile({ bpm: 100, bars: 2, one: 0, seed: 3 }));
  expect(laneFactsOf(await readEntry(sampleId))?.settled.grid ?? null).toBeNull();
  const more = await order(kept, {
    do: 'put',
    lane: lane('c', '00000000-0000-4000-8000-0000000000aa'),
    leads: false,
    takes: null,
  });
  expect((await scoreNow(more.state)).lanes[2].fault).toContain('no longer in the library');
  await expect(
    makeMixes(more.id, { outcomes: [{ what: 'lane', laneId: 'c', name: 'c.wav' }] }, ANYBODY),
  ).rejects.toThrow('no longer in the library');
  const empty = await makeBlend({ name: 'Empty' }, ANYBODY);
  await expect(makeMixes(empty.id, { outcomes: [{ what: 'mix' }] }, ANYBODY)).rejects.toThrow(
    'no sound to export',
  );
  await expect(tempoMapFile(empty.id)).rejects.toThrow('This blend is empty');
});

test('the tempo map can be read by anybody, and what was made is undone in one step', async () => {
  const { kept } = await blendOfTwo();
  const changed = await order(kept, {
    do: 'set',
    patch: { changes: [{ bar: 3, tempoBpm: 100 }] } as Partial<Blend>,
  });
  const { name, bytes } = await tempoMapFile(changed.id);
  expect(name).toBe('Rain tempo map.mid');
  const { claims, notes } = readMidi(bytes);
  expect(claims.bpm).toBeCloseTo(88.402, 3);
  expect(notes[9].time - notes[8].time).toBeCloseTo(0.6, 3);
});
