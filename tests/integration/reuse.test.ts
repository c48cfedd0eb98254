import { encodeWave } from '@/core/formats/encodeWave';
import { ALL_KEYS, keyLabel, type Key } from '@/core/harmony/keyNames';
import type { RecipeInput } from '@/core/recipes/recipe';
import type { PackTarget } from '@/contract/pack';
import type { SampleEntry } from '@/contract/entry';
import { rehearsalPiano } from '@/demo/performance';
import { named, parentOf, USUAL_NAME } from '@/library/recipes/aims';
import { proposalOfRow } from '@/library/samples/aims';
import { ANYBODY } from '@/server/change';
import { chooseAtTarget } from '@/server/choices';
import { readEntry } from '@/server/entry';
import { browseShelf } from '@/server/browse';
import { writePack } from '@/server/packs';
import { familyOf, makeAtTarget, makeRenders } from '@/server/renders';
import { changeSet, joinStems, stemSets } from '@/server/stemSets';
import { taggedCopy } from '@/server/taggedCopy';
import { closeDatabase, database } from '@/store/database';
import { readOriginal } from '@/store/originalBytes';
import { drumFile } from '../support/files';
import {
  askNow,
  bring,
  emptyLibrary,
  measureAll,
  measuredLoop,
  packAll,
  renderAll,
} from '../support/library';
import { drums, chords } from '../support/music';
import { fetched, packOf, unpacked, zipped } from '../support/packs';
import { id3Of, loudestDb, midiNotes, probed, sha256Of } from '../support/readers';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

const keyOf = (label: string): Key => ALL_KEYS.find((one) => keyLabel(one) === label)!;
const FOUR_FOUR = { beatsPerBar: 4, beatUnit: 4 };
const at = (target: Partial<PackTarget>): PackTarget => ({
  ...{ tempoBpm: null, key: null, isTape: false, format: 'wav 24', sampleRate: null, midiAs: 'notes' },
  ...target,
});

async function bytesOf(sampleId: string): Promise<Buffer> {
  const { rows } = await database().query(
    'select o.original_id as id, o.byte_length as length from samples join originals o using (original_id) where sample_id = $1',
    [sampleId],
  );
  const parts: Uint8Array[] = [];
  for await (const part of readOriginal(rows[0].id, 0, rows[0].length)) parts.push(part);
  return Buffer.concat(parts);
}

const childrenOf = async (parent: string): Promise<SampleEntry[]> =>
  Promise.all((await familyOf(parent)).children.map(({ sampleId }) => readEntry(sampleId)));

/** Stems of one piece at 120 BPM in A minor, eight bars: drums at full level, chords at a quarter of it, both saved. */
async function stems(): Promise<{ drums: string; chords: string; setId: string }> {
  const beat = drums({ bpm: 120, bars: 8, one: 0, tail: 0.5 });
  const tones = chords(57, 'minor');
  const wave = (channels: Float32Array[], gain: number) =>
    encodeWave(
      channels.map((one) => one.map((value) => gain * value)),
      44_100,
      24,
    );
  const { sampleId: of } = await bring('March beat.wav', wave([beat.left, beat.right], 1), 'March');
  const { sampleId: on } = await bring('March chords.wav', wave([tones.left, tones.right], 0.25), 'March');
  await measureAll();
  const grid = { tempoBpm: 120, one: 0, meter: FOUR_FOUR, movingBeats: null };
  await askNow(of, { do: 'settle', words: 'so', patch: { grid } });
  await askNow(on, { do: 'settle', words: 'so', patch: { grid, key: keyOf('A minor') } });
  const setId = await joinStems({ sampleIds: [of, on], name: 'March' }, ANYBODY);
  for (const sampleId of [of, on]) await askNow(sampleId, { do: 'save' });
  return { drums: of, chords: on, setId };
}

describe('stems of one set', () => {
  test('drums are in no key: the set gives them none, no target transposes them, no name or tag says one', async () => {
    const { drums: beat, chords: tones } = await stems();
    const [entry, other] = await Promise.all([readEntry(beat), readEntry(tones)]);
    expect(entry.measurement!.key).toBeNull();
    expect(entry.settled.key).toEqual({ none: true });
    expect(other.settled.key).toEqual(keyOf('A minor'));
    expect(entry.summary.toneless).toBe(true);
    expect(other.summary.toneless).toBe(false);
    const target = at({ tempoBpm: 96, key: keyOf('E minor') });
    await makeAtTarget({ sampleIds: [beat, tones], target, template: USUAL_NAME }, ANYBODY);
    await renderAll();
    const [[drum], [chord]] = await Promise.all([childrenOf(beat), childrenOf(tones)]);
    expect(drum.summary.name).toBe('March beat 96 bpm.wav');
    expect(chord.summary.name).toBe('March chords 96 bpm Em.wav');
    const { made } = await familyOf(drum.summary.sampleId);
    expect(made!.recipe.pitch).toMatchObject({ semitones: 0, cents: 0 });
    expect(drum.settled.key).toEqual({ none: true });
    const tags = await Promise.all(
      [drum, chord].map(async ({ summary }) => id3Of(await bytesOf(summary.sampleId))),
    );
    expect(tags.map((one) => [one.TBPM, one.TKEY])).toEqual([
      ['96', undefined],
      ['96', 'Em'],
    ]);
  });

  test('drums that are made to speak for the key give none: the others keep theirs', async () => {
    const { drums: beat, chords: tones, setId } = await stems();
    await changeSet(setId, { keyFrom: beat }, ANYBODY);
    expect((await readEntry(tones)).settled.key).toEqual(keyOf('A minor'));
    await changeSet(setId, { keyFrom: tones }, ANYBODY);
    expect((await readEntry(tones)).settled.key).toEqual(keyOf('A minor'));
    expect((await readEntry(beat)).settled.key).toEqual({ none: true });
  });

  test('a key that somebody gave drums by hand holds; that of older sets does not', async () => {
    const { drums: beat } = await stems();
    const read = async () => (await readEntry(beat)).summary;
    // As a set wrote it once: the reading that is chosen is the set's.
    const { rows } = await database().query(
      `insert into readings (sample_id, property, value, source, sureness, detail, rank, version)
       select $1, 'key', '{"tonic": 9, "mode": "minor"}', 'stem set', 1, 'of old', 0, version from readings limit 1 returning reading_id as id`,
      [beat],
    );
    const patch = { key: keyOf('A minor'), chosen: { key: rows[0].id as string } };
    await askNow(beat, { do: 'settle', words: 'of old', patch });
    expect(await read()).toMatchObject({ keyTonic: 9, toneless: true });
    expect(proposalOfRow(await read(), at({ key: keyOf('E minor') })).semitones).toBe(0);
    await askNow(beat, { do: 'settle', words: 'tuning', patch: { key: keyOf('A minor'), chosen: {} } });
    expect(await read()).toMatchObject({ keyTonic: 9, toneless: false });
    expect(proposalOfRow(await read(), at({ key: keyOf('B minor') })).semitones).toBe(2);
  });

  test('keep their balance: one reduction for all, and become a set again, with its grid and without doubts', async () => {
    const { drums: beat, chords: tones } = await stems();
    const recipeFor = async (sampleId: string) => {
      const entry = await readEntry(sampleId);
      const wanted: Omit<RecipeInput, 'name'> = {
        ...{ parent: parentOf(entry)!, kind: 'loop', region: { from: 0, to: 16 }, write: { gainDb: 6 } },
      };
      return named(wanted, entry, '{name}[ {how}]');
    };
    const recipes = await Promise.all([beat, tones].map(recipeFor));
    await makeRenders({ recipes, sets: [{ name: 'March, bars 1 to 4', recipes: [0, 1] }] }, ANYBODY);
    await renderAll();
    const [[drum], [chord]] = await Promise.all([childrenOf(beat), childrenOf(tones)]);
    const families = await Promise.all([drum, chord].map(({ summary }) => familyOf(summary.sampleId)));
    const [first, second] = families.map(({ made }) => made!.differences.quieterDb);
    expect(first).toBeGreaterThan(1);
    expect(second).toBe(first);
    // As far apart as they were, to a tenth of a dB, by somebody else's time signature.
    const loud = async (sampleId: string) => loudestDb('x.wav', await bytesOf(sampleId));
    const apart = (await loud(drum.summary.sampleId)) - (await loud(chord.summary.sampleId));
    const entries = await Promise.all([beat, tones].map(readEntry));
    const four = await Promise.all(
      entries.map(async (entry) => {
        const wanted: Omit<RecipeInput, 'name'> = {
          ...{ parent: parentOf(entry)!, kind: 'loop', region: { from: 0, to: 16 } },
          write: { gainDb: -6 },
        };
        return named(wanted, entry, '{name} quiet');
      }),
    );
    await makeRenders({ recipes: four }, ANYBODY);
    await renderAll();
    const quiet = await Promise.all(
      [beat, tones].map(async (parent) => loud((await childrenOf(parent))[1].summary.sampleId)),
    );
    expect(Math.abs(apart - (quiet[0] - quiet[1]))).toBeLessThan(0.11);
    // A set of its own, with the grid of the plan, and nothing uncertain.
    const [set] = await stemSets({ sampleId: drum.summary.sampleId });
    expect(set).toMatchObject({ name: 'March, bars 1 to 4', state: 'joined' });
    expect(set.members.map(({ sampleId }) => sampleId).sort()).toEqual(
      [drum.summary.sampleId, chord.summary.sampleId].sort(),
    );
    for (const one of await Promise.all(set.members.map(({ sampleId }) => readEntry(sampleId)))) {
      expect(one.settled.grid).toMatchObject({ tempoBpm: expect.closeTo(120, 6), one: 0 });
      expect(one.summary.doubts).toEqual([]);
      expect(one.summary.bars).toBe(4);
      expect(one.summary.name).toContain('+6 dB');
    }
  });

  test('come back out of a pack as a set, with what was made of them', async () => {
    const { drums: beat, chords: tones } = await stems();
    await makeAtTarget(
      { sampleIds: [tones], target: at({ tempoBpm: 100 }), template: USUAL_NAME, isSaved: true },
      ANYBODY,
    );
    await renderAll();
    const [made] = await childrenOf(tones);
    const before = await familyOf(made.summary.sampleId);
    const kept = await packOf([made.summary.sampleId, beat, tones]);
    await writePack(kept.id);
    await packAll();
    const { files } = await fetched(kept);
    await emptyLibrary();
    const after = await unpacked(await zipped(files));
    const byName = new Map(after.map((entry) => [entry.summary.name, entry]));
    const [drum, chord, again] = ['March beat.wav', 'March chords.wav', 'March chords 100 bpm Am.wav'].map(
      (name) => byName.get(name)!,
    );
    const [set] = await stemSets({ sampleId: drum.summary.sampleId });
    expect(set).toMatchObject({ name: 'March', state: 'joined' });
    expect(set.members.map(({ sampleId }) => sampleId).sort()).toEqual(
      [drum.summary.sampleId, chord.summary.sampleId].sort(),
    );
    expect(set.members.find(({ givesKey }) => givesKey)!.sampleId).toBe(chord.summary.sampleId);
    expect([drum, chord].map(({ settled }) => settled.key)).toEqual([{ none: true }, keyOf('A minor')]);
    expect(again.summary.parent).toMatchObject({ sampleId: chord.summary.sampleId });
    const { made: family } = await familyOf(again.summary.sampleId);
    expect(family!.words).toBe(before.made!.words);
    expect(family!.recipe.parent.sampleId).toBe(chord.summary.sampleId);
    expect(family!.planned.grid).toEqual(before.made!.planned.grid);
    expect((await familyOf(chord.summary.sampleId)).children.map(({ name }) => name)).toEqual([
      'March chords 100 bpm Am.wav',
    ]);
  });
});

describe('a performance', () => {
  /** A played piano whose grid is settled, saved. */
  async function performance(): Promise<string> {
    const { sampleId } = await bring('Rehearsal.mid', rehearsalPiano().bytes, 'Hall');
    await measureAll();
    await askNow(sampleId, { do: 'save' });
    return sampleId;
  }

  test('is described as its tagged copy has it: table, annotations, what is known, and imported again', async () => {
    const sampleId = await performance();
    const before = await readEntry(sampleId);
    const kept = await packOf([sampleId], { clicks: true, tempoMaps: true });
    await writePack(kept.id);
    await packAll();
    const { files, text } = await fetched(kept);
    const notes = midiNotes(files.get('data/samples/Rehearsal.mid')!);
    const own = JSON.parse(text('data/annotations/Rehearsal.grento.json')) as SampleEntry;
    const shift = own.settled.grid!.one - before.settled.grid!.one;
    // The copy begins with a bar line: what is said of it is later by as much as its notes are.
    const first = midiNotes(await bytesOf(sampleId))[0].seconds;
    expect(notes[0].seconds - first).toBeCloseTo(shift, 2);
    expect(Math.abs(shift)).toBeGreaterThan(0.05);
    expect(own.measurement!.onsets[0].time).toBeCloseTo(notes[0].seconds, 2);
    const jams = JSON.parse(text('data/annotations/Rehearsal.jams')) as {
      annotations: { namespace: string; data: { time: number }[] }[];
    };
    const onsets = jams.annotations.find(({ namespace }) => namespace === 'onset')!.data;
    expect(onsets[0].time).toBeCloseTo(notes[0].seconds, 2);
    const [head, line] = text('data/samples.csv').split('\r\n');
    const column = head.split(',').indexOf('first_downbeat_s');
    expect(Number(line.split(',')[column])).toBeCloseTo(own.settled.grid!.one, 5);
    await emptyLibrary();
    const [after] = await unpacked(await zipped(files));
    const one = (entry: SampleEntry) => entry.settled.grid!.one;
    // The first note stands beside the one as it did.
    expect(notes[0].seconds - one(after)).toBeCloseTo(first - one(before), 2);
  });

  test('stays notes at a target, on the Shelf and in a pack; its sound is a choice', async () => {
    const sampleId = await performance();
    const { settled } = await readEntry(sampleId);
    const tempoBpm = Math.round(settled.grid!.tempoBpm * 0.9);
    await makeAtTarget(
      { sampleIds: [sampleId], target: at({ tempoBpm }), template: '{name} notes' },
      ANYBODY,
    );
    await makeAtTarget(
      { sampleIds: [sampleId], target: at({ tempoBpm, midiAs: 'audio' }), template: '{name} sound' },
      ANYBODY,
    );
    await renderAll();
    const made = await childrenOf(sampleId);
    expect(made.map(({ summary }) => [summary.name, summary.format])).toEqual([
      ['Rehearsal notes.mid', 'midi'],
      ['Rehearsal sound.wav', 'wav'],
    ]);
    expect(made[0].summary.bars).toBe((await readEntry(sampleId)).summary.bars);
    const kept = await packOf([sampleId], { atTarget: at({ tempoBpm }) });
    await writePack(kept.id);
    await packAll();
    const { files } = await fetched(kept);
    const [path] = [...files.keys()].filter((one) => one.startsWith('data/at '));
    expect(path).toMatch(/\.mid$/);
    expect(midiNotes(files.get(path)!)).toHaveLength(midiNotes(rehearsalPiano().bytes).length);
  });
});

describe('files at a pack’s target', () => {
  test.each(['wav 24', 'flac 16'] as const)(
    '%s: tags, table and play list say what they are',
    async (format) => {
      const { sampleId } = await bring('Rope 120 Am.wav', drumFile({ bpm: 120, bars: 4, seed: 8 }), 'Loft');
      await measureAll();
      const grid = { tempoBpm: 120, one: 0, meter: FOUR_FOUR, movingBeats: null };
      await askNow(sampleId, {
        ...{ do: 'settle', words: 'so' },
        patch: { grid, kind: 'loop', key: keyOf('A minor') },
      });
      await askNow(sampleId, { do: 'save' });
      const kept = await packOf([sampleId], {
        template: USUAL_NAME,
        atTarget: at({ tempoBpm: 96, key: keyOf('C minor'), format, sampleRate: 48_000 }),
      });
      await writePack(kept.id);
      await packAll();
      const { files, text } = await fetched(kept);
      const [path] = [...files.keys()].filter((one) => one.startsWith('data/at '));
      const ending = format.slice(0, format.indexOf(' '));
      // The tempo and key of before make room for the new ones.
      expect(path).toBe(`data/at 96 BPM, C minor/Rope 96 bpm Cm.${ending}`);
      const file = await probed(path, files.get(path)!);
      expect(file).toMatchObject({ sampleRate: 48_000, frames: 480_000 });
      const tags = { ...file.tags, ...id3Of(files.get(path)!) };
      expect([tags.TBPM ?? tags.BPM, tags.TKEY ?? tags.INITIALKEY]).toEqual(['96', 'Cm']);
      expect(tags.COMMENT).toContain('4/4, the one at 0.0000 s');
      expect(text('data/playlist.m3u8')).toContain(
        `#EXTINF:10,Rope 96 bpm Cm\nat 96 BPM, C minor/Rope 96 bpm Cm.${ending}`,
      );
      const [head, line] = text('data/samples.csv').split('\r\n');
      // No cell before these holds a comma but the quoted path of the target's folder.
      const cells = [...line.matchAll(/"((?:[^"]|"")*)"|([^,]*)(?:,|$)/g)].map(
        ([, quoted, plain]) => quoted ?? plain,
      );
      const cell = (name: string) => cells.filter((_, i) => i >= 0)[head.split(',').indexOf(name)];
      expect(head).toContain('at_target_tempo_bpm');
      expect(
        [cell('at_target_tempo_bpm'), cell('at_target_duration_s')].every((one) => one !== undefined),
      ).toBe(true);
      expect(line).toContain(',96,0,4,C minor,10,');
      // Every file of it is what the manifest says, by somebody else's tool.
      for (const listed of text('manifest-sha256.txt').trimEnd().split('\n')) {
        const [sum, name] = listed.split(/ {2}/);
        expect([name, await sha256Of(files.get(name)!)]).toEqual([name, sum]);
      }
    },
  );

  test('stems of a set keep their balance there as well', async () => {
    const { drums: beat, chords: tones } = await stems();
    const kept = await packOf([beat, tones], { atTarget: at({ tempoBpm: 131, format: 'wav 16' }) });
    await writePack(kept.id);
    await packAll();
    const { files } = await fetched(kept);
    const loud = async (name: string) => {
      const [path] = [...files.keys()].filter((one) => one.startsWith('data/at ') && one.includes(name));
      return loudestDb(path, files.get(path)!);
    };
    const { rows } = await database().query(
      `select distinct (planned ->> 'quieterDb')::float as db from pack_parts where planned is not null`,
    );
    expect(rows).toHaveLength(1);
    expect(await loud('beat')).toBeLessThanOrEqual(0);
    expect((await loud('beat')) - (await loud('chords'))).toBeGreaterThan(6);
  });
});

describe('a choice for a sample at a target', () => {
  test('is what its row, its render and its file in a pack follow, at that target solo', async () => {
    const sampleId = await measuredLoop('choice.wav');
    await askNow(sampleId, { do: 'save' });
    const target = at({ tempoBpm: 150 });
    const row = async () => (await browseShelf(new URLSearchParams())).rows[0];
    expect(proposalOfRow(await row(), target)).toMatchObject({ level: 1, bars: 4 });
    await chooseAtTarget(sampleId, {
      ...{ target: { tempoBpm: 150, key: null, isTape: false }, level: 1.5, semitones: null },
    });
    expect(proposalOfRow(await row(), target)).toMatchObject({ level: 1.5 });
    expect(proposalOfRow(await row(), at({ tempoBpm: 151 }))).toMatchObject({ level: 1 });
    await makeAtTarget({ sampleIds: [sampleId], target, template: '{name}' }, ANYBODY);
    await renderAll();
    const [made] = await childrenOf(sampleId);
    expect(made.summary).toMatchObject({ bars: 6, tempoBpm: expect.closeTo(150, 3) });
    await chooseAtTarget(sampleId, {
      ...{ target: { tempoBpm: 150, key: null, isTape: false }, level: null, semitones: null },
    });
    expect((await row()).choices).toEqual([]);
    await expect(chooseAtTarget(sampleId, { target, level: 1.3, semitones: null })).rejects.toThrow();
  });
});

test('a one-shot’s root is no minor key in names and tags', async () => {
  const { sampleId } = await bring('Pling.wav', drumFile({ bpm: 120, bars: 1, seed: 3 }), 'Hits');
  await measureAll();
  await askNow(sampleId, {
    ...{ do: 'settle', words: 'so' },
    patch: { kind: 'oneshot', grid: null, key: keyOf('D minor') },
  });
  const { name, bytes } = await taggedCopy(sampleId);
  const parts: Uint8Array[] = [];
  for await (const part of bytes) parts.push(part);
  expect(name).toBe('Pling D.wav');
  expect(id3Of(Buffer.concat(parts)).TKEY).toBe('D');
});
