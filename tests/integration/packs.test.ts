import { createHash, randomUUID } from 'node:crypto';
import { decodeAudio } from '@/core/formats/decode';
import { readMidi } from '@/core/formats/midi';
import type { SampleEntry } from '@/contract/entry';
import { contentsOf } from '@/library/packs/contents';
import { ownFile } from '@/library/packs/own';
import { ANYBODY } from '@/server/change';
import { asSent } from '@/server/once';
import { readEntry } from '@/server/entry';
import { binPack, changePack, makePack, packContents, packNow, packsNow, writePack } from '@/server/packs';
import { packArchive } from '@/server/packArchive';
import { familyOf, makeRenders } from '@/server/renders';
import { directTask, measureAgain, tasksNow } from '@/server/tasks';
import { recipeAtTarget } from '@/library/recipes/aims';
import { closeDatabase, database } from '@/store/database';
import { takeItem } from '@/store/longTasks';
import { takeTask } from '@/store/tasks';
import { packSample } from '@/server/tasks/pack';
import { inBlocks } from '../support/bytes';
import { drumFile } from '../support/files';
import {
  askNow,
  bring,
  emptyLibrary,
  inBulk,
  measureAll,
  packAll,
  prove,
  renderAll,
  setInBin,
} from '../support/library';
import { fetched, order, packOf, unpacked, zipped } from '../support/packs';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

/** A saved loop of known grid, one second of beat a bar or so, with a licence. */
async function loop(name: string, bpm: number, more: object = {}): Promise<string> {
  const { sampleId } = await bring(name, drumFile({ bpm, bars: 2, one: 0, seed: Math.round(bpm) }), 'Winter');
  await measureAll();
  await askNow(sampleId, {
    do: 'settle',
    words: 'what the pack is',
    patch: {
      kind: 'loop',
      grid: { tempoBpm: bpm, one: 0, meter: { beatsPerBar: 4, beatUnit: 4 }, movingBeats: null },
      ...more,
    },
  });
  await askNow(sampleId, { do: 'save' });
  return sampleId;
}

const sha256 = (content: Buffer) => createHash('sha256').update(content).digest('hex');

/** Holds a bag against the standard: every file of it is listed once, with the checksum that it has. */
function expectBag(files: ReadonlyMap<string, Buffer>) {
  const listed = (manifest: string) =>
    files
      .get(manifest)!
      .toString()
      .trimEnd()
      .split('\n')
      .map((line) => /^([0-9a-f]{64}) {2}(.+)$/.exec(line)!.slice(1));
  const payload = [...files.keys()].filter((path) => path.startsWith('data/'));
  const manifest = listed('manifest-sha256.txt');
  expect(manifest.map(([, path]) => path).sort()).toEqual(payload.sort());
  for (const [sum, path] of [...manifest, ...listed('tagmanifest-sha256.txt')])
    expect([path, sum]).toEqual([path, sha256(files.get(path)!)]);
  const octets = payload.reduce((sum, path) => sum + files.get(path)!.length, 0);
  expect(files.get('bag-info.txt')!.toString()).toContain(`Payload-Oxum: ${octets}.${payload.length}\n`);
  expect(files.get('bagit.txt')!.toString()).toMatch(
    /^BagIt-Version: 1\.0\nTag-File-Character-Encoding: UTF-8\n$/,
  );
}

async function framesOf(bytes: Buffer) {
  const { frames, sampleRate } = await decodeAudio(
    () => inBlocks(bytes),
    () => {},
  );
  return { frames, sampleRate };
}

test('a pack holds every file under the name that was shown, as a bag that others can check', async () => {
  const ids = [
    await loop('rope.wav', 88.402, { licence: 'Ours: free to use', key: { tonic: 4, mode: 'minor' } }),
    await loop('frost.wav', 120, { origin: 'the cellar' }),
  ];
  const kept = await packOf(ids, {
    template: '{number} {name}[ {bpm} bpm][ {key}]',
    folders: 'kind',
    about: 'Two loops.\nFor the winter play.',
    atTarget: {
      tempoBpm: 100,
      key: null,
      isTape: false,
      format: 'flac 16',
      sampleRate: null,
      midiAs: 'notes',
    },
    clicks: true,
    tempoMaps: true,
  });
  const { rows } = await packContents(kept.id);
  const shown = contentsOf(kept.state, new Map(rows.map((row) => [row.sampleId, row])));
  expect(shown.map(({ paths }) => paths!.file)).toEqual([
    'samples/loops/01 rope 88.4 bpm Em.wav',
    'samples/loops/02 frost 120 bpm.wav',
  ]);
  expect(shown[0].paths!.atTarget).toBe('at 100 BPM/loops/01 rope 100 bpm Em.flac');
  await expect(packArchive(kept.id)).rejects.toThrow('has not been written yet');
  await writePack(kept.id);
  await expect(writePack(kept.id)).rejects.toThrow('is being written');
  await packAll();
  const { name, whole, files, text } = await fetched(kept);
  expect(name).toBe('Winter- frost & rope.zip');
  expectBag(files);
  for (const { paths } of shown)
    for (const path of Object.values(paths!)) expect(files.has(`data/${path}`)).toBe(true);

  // Eight beats at 100 BPM are 4.8 s, to the frame; the click is as long as its sample.
  expect(await framesOf(files.get(`data/${shown[0].paths!.atTarget}`)!)).toEqual({
    ...{ frames: 4.8 * 44100, sampleRate: 44100 },
  });
  const own = await framesOf(files.get(`data/${shown[0].paths!.file}`)!);
  expect(await framesOf(files.get(`data/${shown[0].paths!.click}`)!)).toEqual(own);
  const { notes } = readMidi(files.get(`data/${shown[1].paths!.tempoMap}`)!);
  expect(notes.slice(0, 3).map(({ time }) => time)).toEqual(
    [0, 0.5, 1].map((time) => expect.closeTo(time, 3)),
  );

  const jams = JSON.parse(text(`data/${shown[0].paths!.annotations}`));
  const found = (namespace: string) =>
    jams.annotations.find((one: { namespace: string }) => one.namespace === namespace).data;
  expect(
    found('beat')
      .slice(0, 5)
      .map(({ value }: { value: number }) => value),
  ).toEqual([1, 2, 3, 4, 1]);
  expect(found('beat')[4].time).toBeCloseTo((4 * 60) / 88.402, 5);
  expect(found('tempo')[0].value).toBe(88.402);
  expect(found('key_mode')[0].value).toBe('E:minor');

  const table = text('data/samples.csv').trimEnd().split('\r\n');
  const { resources, title } = JSON.parse(text('data/datapackage.json'));
  expect(title).toBe('Winter: frost & rope');
  expect(resources[0].schema.fields.map((field: { name: string }) => field.name)).toEqual(
    table[0].split(','),
  );
  expect(table[1]).toContain(
    'samples/loops/01 rope 88.4 bpm Em.wav,at 100 BPM/loops/01 rope 100 bpm Em.flac',
  );
  expect(table[1]).toContain(',88.402,false,0,4/4,2,E minor,');
  expect(text('data/licences.txt')).toMatch(/Ours: free to use:\n {2}samples\/loops\/01 rope/);
  expect(text('data/playlist.m3u8')).toContain('\nat 100 BPM/loops/02 frost 100 bpm.flac\n');
  expect(ownFile.parse(JSON.parse(text(`data/${shown[0].paths!.own}`))).settled.licence).toBe(
    'Ours: free to use',
  );
  expect(text('data/annotations/grento.schema.json')).toContain('"sha256"');
  // Fetched again it comes to the same bytes.
  expect(sha256((await fetched(kept)).whole)).toBe(sha256(whole));
});

test('written again, only what is not the same any more is made; what came before is kept until then', async () => {
  const ids = [await loop('rope.wav', 88.402), await loop('frost.wav', 120)];
  const kept = await packOf(ids, {
    atTarget: {
      tempoBpm: 100,
      key: null,
      isTape: false,
      format: 'wav 16',
      sampleRate: null,
      midiAs: 'notes',
    },
  });
  const originals = async () =>
    (
      await database().query(
        'select original_id as id from pack_parts where original_id is not null order by path',
      )
    ).rows;
  await writePack(kept.id);
  await packAll();
  const first = await fetched(kept);
  const before = new Set((await originals()).map(({ id }) => id));
  await askNow(ids[1], { do: 'settle', words: 'its note', patch: { note: 'from the cellar' } });
  await writePack(kept.id);
  expect((await packContents(kept.id)).last).toMatchObject({ state: 'waiting' });
  expect((await packContents(kept.id)).done).toMatchObject({ samples: 2, changed: 1 });
  // What was written is there while it is written again.
  expect(sha256((await fetched(kept)).whole)).toBe(sha256(first.whole));
  await packAll();
  const second = await fetched(kept);
  expectBag(second.files);
  const fresh = (await originals()).filter(({ id }) => !before.has(id));
  // The tagged copy of the one that was changed carries its note.
  expect(fresh).toHaveLength(1);
  expect((await packContents(kept.id)).done).toMatchObject({ samples: 2, changed: 0 });
  const compared = (text: string) => text.split('\r\n')[1].includes('frames, as planned');
  expect(compared(second.text('data/samples.csv'))).toBe(true);
  await writePack(kept.id);
  await packAll();
  // Two writings at most stand; what only the first rested on is gone.
  expect((await database().query('select count(*) as n from pack_writings')).rows[0].n).toBe(2);
});

test('what cannot be written is said, and the others are there', async () => {
  const ids = [await loop('rope.wav', 88.402), await loop('frost.wav', 120)];
  const { sampleId: late } = await bring('late.wav', drumFile({ bpm: 90, bars: 2, one: 0, seed: 3 }));
  const kept = await packOf([...ids, late], { files: 'original', annotations: false });
  await setInBin(ids[0], true);
  const shown = async () => {
    const { rows } = await packContents(kept.id);
    return contentsOf(kept.state, new Map(rows.map((row) => [row.sampleId, row]))).map(({ fault }) => fault);
  };
  expect(await shown()).toEqual([
    'It is no longer in the library, or in the bin.',
    null,
    'It is not measured yet.',
  ]);
  await writePack(kept.id);
  await packAll();
  const { files, text } = await fetched(kept);
  expectBag(files);
  expect([...files.keys()].filter((path) => path.startsWith('data/samples/'))).toEqual([
    'data/samples/frost.wav',
  ]);
  // The very bytes that arrived.
  expect(sha256(files.get('data/samples/frost.wav')!)).toBe((await readEntry(ids[1])).summary.sha256);
  expect(text('data/what is missing.txt')).toContain('late.wav: It is not measured yet.');
  expect((await packContents(kept.id)).done!.faults).toHaveLength(2);
  // What was refused before it was begun would be refused again: there is nothing to try.
  const { taskId } = (await packContents(kept.id)).last!;
  await expect(directTask(taskId!, { do: 'retry' })).rejects.toThrow('ended or changed');
  const [task] = (await tasksNow()).tasks;
  expect(task).toMatchObject({ state: 'done', failed: 2, canBeRetried: false });

  const empty = await makePack({}, ANYBODY);
  await expect(writePack(empty.id)).rejects.toThrow('This pack is empty');
  const silent = await order(kept, { do: 'set', patch: { files: 'none' } });
  await expect(writePack(silent.id)).rejects.toThrow('would hold no audio');
  const wrong = await order(kept, { do: 'set', patch: { files: 'original', template: '{colour}' } });
  await expect(writePack(wrong.id)).rejects.toThrow('There is no field {colour}');
  await expect(order(kept, { do: 'set', patch: { name: '' } })).rejects.toThrow();
  await expect(packNow('00000000-0000-4000-8000-000000000000')).rejects.toThrow('no such pack');
});

test('cancelled in the middle nothing of it can be fetched, and nothing stays behind', async () => {
  const ids = [await loop('rope.wav', 88.402), await loop('frost.wav', 120)];
  const kept = await packOf(ids);
  const originals = async () => (await database().query('select count(*) as n from originals')).rows[0].n;
  const before = await originals();
  const { taskId } = await writePack(kept.id);
  const task = (await takeTask(1, ['pack']))!;
  const item = (await takeItem(task))!;
  await packSample(task, item.position, Number(item.path), () => {});
  expect(await originals()).toBe(before + 1);
  await directTask(taskId, { do: 'cancel' });
  // The thread had not heard of it yet.
  await packSample(task, item.position, 1, () => {});
  expect(await originals()).toBe(before + 1);
  await expect(packArchive(kept.id)).rejects.toThrow('has not been written yet');
  await directTask(taskId, { do: 'forget' });
  expect(await originals()).toBe(before);
  expect((await packContents(kept.id)).last).toBeNull();
});

test('what was written stays when its line is taken away, and with the samples in the bin', async () => {
  const ids = [await loop('rope.wav', 88.402)];
  const { sampleId: late } = await bring('late.wav', drumFile({ bpm: 90, bars: 2, one: 0, seed: 3 }));
  const kept = await packOf([...ids, late], { files: 'original' });
  const { taskId } = await writePack(kept.id);
  await expect(directTask(taskId, { do: 'forget' })).rejects.toThrow('has ended or changed');
  await packAll();
  const { whole, text } = await fetched(kept);
  expect(text('data/what is missing.txt')).toContain('late.wav');
  await directTask(taskId, { do: 'forget' });
  expect((await tasksNow()).tasks).toEqual([]);
  await setInBin(ids[0], true);
  // What is missing in it is still said.
  expect(sha256((await fetched(kept)).whole)).toBe(sha256(whole));
  expect((await packsNow())[0]).toMatchObject({
    name: kept.state.name,
    samples: 2,
    writtenAt: expect.any(String),
  });
});

test('orders: put once, moved, sorted, removed, step by step; what two do at once both stands', async () => {
  const [a, b, c, d] = ['a', 'b', 'c', 'd'].map((letter) => `0000000${letter}-0000-4000-8000-000000000000`);
  let kept = await packOf([a, b, c]);
  kept = await order(kept, { do: 'put', sampleIds: [b, d] });
  expect(kept.state.sampleIds).toEqual([a, b, c, d]);
  kept = await order(kept, { do: 'move', sampleId: d, to: 1 });
  expect(kept.state.sampleIds).toEqual([a, d, b, c]);
  kept = await order(kept, { do: 'sort', sampleIds: [c, a] });
  expect(kept.state.sampleIds).toEqual([c, a, d, b]);
  await Promise.all([
    order(kept, { do: 'take', sampleIds: [a, c] }, 'two removed'),
    order(kept, { do: 'set', patch: { licence: 'Ours' } }),
  ]);
  kept = await packNow(kept.id);
  expect(kept.state).toMatchObject({ sampleIds: [d, b], licence: 'Ours' });
  await changePack(kept.id, { do: 'undo' }, ANYBODY);
  kept = await changePack(kept.id, { do: 'undo' }, ANYBODY);
  expect(kept.state.sampleIds).toEqual([c, a, d, b]);
  await expect(
    order(kept, { do: 'move', sampleId: '0000000e-0000-4000-8000-000000000000', to: 0 }),
  ).rejects.toThrow('removed meanwhile');
  const many = Array.from(
    { length: 2000 },
    (_, i) => `${String(i).padStart(8, '0')}-0000-4000-8000-000000000001`,
  );
  await expect(order(kept, { do: 'put', sampleIds: many })).rejects.toThrow('2000 samples at most');
  const long = await makePack({ name: `${'x'.repeat(109)}𝄞!` }, ANYBODY);
  expect((await makePack({ copyOf: long.id }, ANYBODY)).state.name).toBe(`${'x'.repeat(109)}, a copy`);
  // What was done before it was deleted is answered as done, however often it is sent; what comes after is refused.
  const renamed = (id: string) => asSent(id, () => order(kept, { do: 'set', patch: { name: 'Sent again' } }));
  const [sent, late] = [randomUUID(), randomUUID()];
  await renamed(sent);
  await binPack(kept.id, true);
  await expect(packNow(kept.id)).rejects.toThrow('was deleted');
  expect((await renamed(sent)).state.name).toBe('Sent again');
  await expect(renamed(late)).rejects.toThrow('was deleted');
  await binPack(kept.id, false);
  expect((await packNow(kept.id)).state.name).toBe('Sent again');
  expect((await packNow(kept.id)).state.sampleIds).toHaveLength(4);
});

test('what is made goes straight into a pack, as one step; a sample says which packs hold it', async () => {
  const ids = [await loop('rope.wav', 88.402), await loop('frost.wav', 120)];
  const kept = await packOf([ids[0]]);
  const target = { tempoBpm: 100, key: null, isTape: false };
  const recipeOf = (entry: SampleEntry) =>
    recipeAtTarget(entry, target, { format: 'wav 16', sampleRate: null, template: '{name} at 100' })!;
  const recipes = (await Promise.all(ids.map(readEntry))).map(recipeOf);
  await makeRenders({ recipes, isSaved: true, packId: kept.id }, ANYBODY);
  await renderAll();
  const now = await packNow(kept.id);
  expect(now.state.sampleIds).toHaveLength(3);
  expect(now).toMatchObject({ sequence: kept.sequence + 1, undo: 'rendered samples added' });
  expect((await familyOf(now.state.sampleIds[2])).packs).toEqual([{ id: kept.id, name: kept.state.name }]);
  expect((await familyOf(ids[1])).packs).toEqual([]);
  // Whoever bins it is told.
  const { hanging } = await inBulk({ do: 'bin' }, now.state.sampleIds.slice(1));
  expect(hanging).toEqual({ made: 0, blends: 0, packs: 1 });
  await expect(
    makeRenders({ recipes, packId: '00000000-0000-4000-8000-000000000000' }, ANYBODY),
  ).rejects.toThrow('no such pack');
});

describe('a pack that is imported again', () => {
  let files: Map<string, Buffer>;
  let before: SampleEntry[];
  beforeAll(async () => {
    await emptyLibrary();
    const ids = [
      await loop('frost.wav', 120, {
        licence: 'ours',
        note: 'cold',
        rating: 4,
        tags: [{ facet: 'part', value: 'drums' }],
      }),
      // Settled otherwise than it is measured.
      await loop('rope.wav', 88.402, {
        grid: { tempoBpm: 44.201, one: 0.02, meter: { beatsPerBar: 3, beatUnit: 4 }, movingBeats: null },
        key: { tonic: 4, mode: 'minor' },
        title: 'Rope & pulley.wav',
      }),
    ];
    const { sequence } = await readEntry(ids[0]);
    await prove(ids[0], { base: sequence, signedBy: 'Ada Wilmot', verdict: 'on', heard: [] });
    before = await Promise.all(ids.map(readEntry));
    const kept = await packOf(ids, {
      atTarget: {
        tempoBpm: 100,
        key: null,
        isTape: false,
        format: 'wav 16',
        sampleRate: null,
        midiAs: 'notes',
      },
      clicks: true,
      tempoMaps: true,
      template: '{number} {name}',
      folders: 'kind',
    });
    await writePack(kept.id);
    await packAll();
    ({ files } = await fetched(kept));
  });

  const sameSettled = (entry: SampleEntry, was: SampleEntry) =>
    expect({ ...entry.settled, chosen: null, title: entry.summary.name }).toEqual({
      ...{ ...was.settled, chosen: null },
      title: was.summary.name,
    });

  test('brings its samples back as they were settled, saved and proved, and nothing else of it', async () => {
    await emptyLibrary();
    const after = await unpacked(await zipped(files));
    expect(after.map(({ summary }) => summary.name)).toEqual(['frost.wav', 'Rope & pulley.wav']);
    after.forEach((entry, i) => sameSettled(entry, before[i]));
    expect(after.map(({ summary }) => [summary.arrivedAs, summary.folder])).toEqual([
      ['01 frost.wav', 'Winter/loops'],
      ['02 Rope & pulley.wav', 'Winter/loops'],
    ]);
    expect(after.map(({ summary }) => [summary.standing, summary.proof])).toEqual([
      ['saved', 'current'],
      ['saved', null],
    ]);
    const [{ proofs, settled, readings, history }] = after;
    expect(proofs).toHaveLength(1);
    expect(proofs[0]).toMatchObject({
      ...{ signedBy: 'Ada Wilmot, through a pack', verdict: 'on', current: true },
      signedAt: before[0].proofs[0].signedAt,
    });
    expect(history.map(({ words }) => words)).toEqual(['measured', 'from its pack']);
    // What is settled still names the reading that it was chosen from.
    expect(readings.map(({ readingId }) => readingId)).toContain(settled.chosen.key ?? settled.chosen.tempo);
    const [task] = (await tasksNow()).tasks;
    expect(task).toMatchObject({ files: 2, done: 2, failed: 0 });
    // Measured again it stays so.
    await measureAgain(after[1].summary.sampleId, {});
    await measureAll();
    expect((await readEntry(after[1].summary.sampleId)).settled.grid!.tempoBpm).toBe(44.201);
  });

  test('does not touch what is already imported', async () => {
    const zip = await zipped(files);
    const [{ summary }] = await unpacked(zip);
    const { sampleId } = summary;
    await askNow(sampleId, { do: 'settle', words: 'other', patch: { note: 'warm' } });
    await unpacked(zip);
    expect((await readEntry(sampleId)).settled.note).toBe('warm');
  });

  test('says what is not as it was written, and believes nothing of it', async () => {
    await emptyLibrary();
    const frost = (path: string) => path.startsWith('data/samples/loops/01 frost');
    const broken = await zipped(files, (path, bytes) => {
      if (path.endsWith('pulley.grento.json')) return Buffer.from('{"version":1,');
      if (!frost(path)) return bytes;
      const changed = Buffer.from(bytes);
      changed[2000] ^= 1;
      return changed;
    });
    const after = await unpacked(broken);
    expect(after.map(({ summary }) => summary.standing)).toEqual(['measured', 'measured']);
    expect(after.map(({ settled }) => settled.note)).toEqual(['', '']);
    const [{ faults }] = (await tasksNow()).tasks;
    expect(faults.map(({ fault }) => fault)).toEqual(
      expect.arrayContaining([
        expect.stringContaining('differs from its pack’s checksum'),
        expect.stringContaining('is not written by Grento'),
      ]),
    );
    expect((await database().query('select count(*) as n from pack_notes')).rows[0].n).toBe(0);
  });

  test('a note that no text can hold, or with values that cannot be, costs itself: the sound comes in, and it is said', async () => {
    await emptyLibrary();
    const broken = await zipped(files, (path, bytes) => {
      if (!path.endsWith('.grento.json')) return bytes;
      const own = JSON.parse(bytes.toString());
      if (path.endsWith('pulley.grento.json')) own.settled.note = `torn${String.fromCharCode(0)}`;
      else own.settled.grid.one = 5000;
      return Buffer.from(JSON.stringify(own));
    });
    const after = await unpacked(broken);
    expect(after.map(({ summary }) => summary.fault)).toEqual(after.map(() => null));
    expect(after.every(({ settled }) => settled.grid === null || settled.grid.one < 100)).toBe(true);
    const [{ faults }] = (await tasksNow()).tasks;
    expect(faults.map(({ fault }) => fault)).toEqual([expect.stringContaining('is not written by Grento')]);
    expect(after.flatMap(({ warnings }) => warnings).join()).toMatch(
      /settings for it are invalid .* lies more than 60 s outside the audio/,
    );
  });
});
