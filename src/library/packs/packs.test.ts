import type { SampleEntry } from '@/contract/entry';
import { EMPTY_STATE } from '@/contract/settled';
import { pack, type Pack } from '@/contract/pack';
import { jamsOf } from './annotations';
import { listsOf, tagFilesOf } from './bag';
import { contentsOf, type PackedRow } from './contents';
import { eachOnce, safeStem } from './fileNames';
import { tableCells, tableRowOf } from './table';

const ID = (n: number) => `0000000${n}-0000-4000-8000-000000000000`;

const row = (n: number, more: Partial<PackedRow> = {}): PackedRow => ({
  ...{ sampleId: ID(n), sequence: 1, name: 'Rope.wav', arrivedAs: null, folder: 'Rigging/Old: ropes' },
  ...{ kind: 'loop', standing: 'saved', doubts: [], todos: [], format: 'wav', durationSeconds: 8 },
  ...{
    sampleRate: 44100,
    channels: 2,
    byteLength: 100,
    sha256: 'a'.repeat(64),
    fault: null,
    thumbnail: null,
  },
  ...{ tempoBpm: 120, tempoSureness: 1, steady: true, oneSeconds: 0, beatsPerBar: 4, beatUnit: 4, bars: 4 },
  ...{ keyTonic: 9, keyMode: 'minor', keySureness: 1, tuningCents: 0, rating: null, proof: 'current' },
  ...{ toneless: false, choices: [] },
  ...{ tags: [], arrivedAt: '', stemSet: null, measuring: null, parent: null, licence: 'ours' },
  ...more,
});

function linesOf(rows: PackedRow[], more: Partial<Pack> = {}) {
  const state = pack.parse({ name: 'Rigging', sampleIds: rows.map(({ sampleId }) => sampleId), ...more });
  return contentsOf(state, new Map(rows.map((one) => [one.sampleId, one])));
}

describe('names of files', () => {
  test.each([
    ['a/b\\c:d*e?"<>|', 'a-b-c-d-e-----'],
    ['..hidden. ', 'hidden'],
    ['CON', 'CON-'],
    ['…', '…'],
    [' . ', 'sample'],
    ['x'.repeat(300), 'x'.repeat(200)],
    // No half of a character is left, which nothing could store.
    [`x${'𝄞'.repeat(80)}`, `x${'𝄞'.repeat(49)}`],
    ['tab\there\u0000', 'tab-here-'],
  ])('“%s” becomes “%s”', (name, safe) => expect(safeStem(name)).toBe(safe));

  test('names that differ in capitals solo are told apart', () => {
    const once = eachOnce();
    expect([once('Rope', '.wav'), once('rope', '.wav'), once('ROPE', '.wav'), once('rope', '.mid')]).toEqual([
      'Rope.wav',
      'rope (2).wav',
      'ROPE (3).wav',
      'rope.mid',
    ]);
  });
});

describe('what is written of each sample', () => {
  test('the same name twice is numbered, in every folder alike', () => {
    const lines = linesOf([row(1), row(2)], { clicks: true, tempoMaps: true });
    expect(lines[1].paths).toEqual({
      file: 'samples/Rope (2).wav',
      atTarget: null,
      click: 'clicks/Rope (2) click.wav',
      tempoMap: 'tempo maps/Rope (2).mid',
      annotations: 'annotations/Rope (2).jams',
      own: 'annotations/Rope (2).grento.json',
    });
  });

  test('numbers have as many digits as the last of them, so that they stand in order', () => {
    const file = (count: number) =>
      linesOf(
        Array.from({ length: count }, (_, i) =>
          row(1, { sampleId: `${String(i).padStart(8, '0')}${ID(1).slice(8)}` }),
        ),
        { template: '{number}' },
      )[6].paths!.file;
    expect([file(7), file(120)]).toEqual(['samples/07.wav', 'samples/007.wav']);
  });

  test('what was made without an ending gets that of its format; a tempo in a name is none', () => {
    const file = (more: Partial<PackedRow>) => linesOf([row(1, more)])[0].paths!.file;
    expect(file({ name: 'Second act, rain' })).toBe('samples/Second act, rain.wav');
    expect(file({ name: 'Rope 88.42', format: 'flac' })).toBe('samples/Rope 88.42.flac');
    expect(file({ name: 'Rope.AIF', format: 'aiff' })).toBe('samples/Rope.aif');
  });

  test('folders: by kind, by part, as they lie', () => {
    const file = (folders: Pack['folders'], more: Partial<PackedRow> = {}) =>
      linesOf([row(1, more)], { folders })[0].paths!.file;
    expect(file('kind')).toBe('samples/loops/Rope.wav');
    expect(file('kind', { kind: 'oneshot' })).toBe('samples/one-shots/Rope.wav');
    expect(file('part')).toBe('samples/other/Rope.wav');
    expect(file('part', { tags: [{ facet: 'part', value: 'bass' }] })).toBe('samples/bass/Rope.wav');
    expect(file('folder')).toBe('samples/Rigging/Old- ropes/Rope.wav');
  });

  test('at a target the name says its tempo and key; what the target leaves as it is keeps its format', () => {
    const atTarget = {
      tempoBpm: 100,
      key: { tonic: 4, mode: 'minor' },
      isTape: false,
      format: 'flac 24',
    } as const;
    const template = '{name} {bpm} {key}';
    const lines = linesOf(
      [row(1), row(2, { name: 'Bell.aif', kind: 'oneshot', tempoBpm: null, keyTonic: null, keyMode: null })],
      { template, atTarget: { ...atTarget, sampleRate: null, midiAs: 'notes' } },
    );
    expect(lines.map(({ paths }) => paths!.atTarget)).toEqual([
      'at 100 BPM, E minor/Rope 100 Em.flac',
      'at 100 BPM, E minor/Bell.aif',
    ]);
    expect(lines[0].paths!.file).toBe('samples/Rope 120 Am.wav');
    expect(lines[1].paths!.click).toBeNull();
  });

  test('what should be looked at first is said', () => {
    const atTarget = { tempoBpm: 61, key: { tonic: 3, mode: 'minor' }, isTape: false } as const;
    const notes = (more: Partial<PackedRow>, of: Partial<Pack> = {}) => linesOf([row(1, more)], of)[0].notes;
    expect(notes({})).toEqual([]);
    expect(
      notes({ proof: 'lost', standing: 'measured', doubts: [{ code: 'no tempo', weight: 0.9 }] }),
    ).toEqual(['not saved to the Shelf', 'grid not proved', 'uncertain: no tempo']);
    expect(notes({ licence: '' })).toEqual(['no licence']);
    expect(notes({ licence: '' }, { licence: 'ours' })).toEqual([]);
    expect(
      notes(
        { tempoBpm: 90 },
        { atTarget: { ...atTarget, format: 'wav 24', sampleRate: null, midiAs: 'notes' } },
      ),
    ).toEqual(['strong strain at the target']);
  });

  test('what is not there, not measured, or left without a name has a reason and no files', () => {
    const state = pack.parse({ name: 'Rigging', sampleIds: [ID(1), ID(2)], template: '{part}' });
    const lines = contentsOf(state, new Map([[ID(2), row(2)]]));
    expect(lines.map(({ paths, fault }) => [paths, fault])).toEqual([
      [null, 'It is no longer in the library, or in the bin.'],
      [null, 'The template gives an empty name.'],
    ]);
    expect(linesOf([row(1, { standing: 'arrived' })])[0].fault).toBe('It is not measured yet.');
  });
});

const entry = (more: Partial<SampleEntry['settled']> = {}): SampleEntry => ({
  ...{ summary: row(1, { durationSeconds: 4 }), warnings: [], measurement: null, readings: [] },
  settled: {
    ...EMPTY_STATE,
    grid: { tempoBpm: 90, one: 0.5, meter: { beatsPerBar: 3, beatUnit: 4 }, movingBeats: null },
    key: { tonic: 1, mode: 'minor' },
    ...more,
  },
  ...{ sequence: 1, undo: null, redo: null, history: [], proofs: [] },
});

const PATHS = {
  file: 'samples/Rope.wav',
  atTarget: null,
  click: null,
  tempoMap: null,
  annotations: null,
  own: null,
};

describe('lists by open standards', () => {
  test('annotations: beats with their places, bars, tempo, key; a proved grid is certain', () => {
    const jams = jamsOf(entry({ loop: { bar: 1, bars: 1, shiftSeconds: 0 } })) as {
      annotations: {
        namespace: string;
        data: { time: number; duration: number; value: unknown; confidence: unknown }[];
      }[];
    };
    const of = (namespace: string) => jams.annotations.find((one) => one.namespace === namespace)!.data;
    // The beat before the one is the last of a bar of three.
    expect(of('beat').map(({ value }) => value)).toEqual([1, 2, 3, 1, 2, 3]);
    expect(of('beat')[1].time).toBeCloseTo(0.5 + 60 / 90, 6);
    expect(of('beat')[0].confidence).toBe(1);
    expect(of('segment_open').map(({ value, duration }) => [value, duration])).toEqual([
      ['bar 1', 2],
      ['bar 2', 1.5],
      ['loop', 2],
    ]);
    expect(of('key_mode')[0].value).toBe('C#:minor');
    expect(jamsOf(entry({ key: { none: true }, grid: null }))).toMatchObject({
      annotations: [{ namespace: 'key_mode', data: [{ value: 'N' }] }],
    });
  });

  test('words with commas, quotes and line ends stay in their cell; every cell has a column', () => {
    const packed = { entry: entry({ note: 'said: "slow",\nthen fast' }), paths: PATHS, atTarget: null };
    const cells = tableCells([tableRowOf(packed)]);
    expect(cells[1]).toHaveLength(cells[0].length);
    const state = pack.parse({ name: 'Ropes & Lamps, №1' });
    const written = { pack: state, writtenAt: '2026-03-01T10:00:00.000Z', faults: [] };
    const lists = listsOf({ ...written, samples: [{ row: tableRowOf(packed), durationSeconds: 4 }] });
    const text = (path: string) => lists.find((one) => one.path === path)!.text;
    expect(text('samples.csv')).toContain('"said: ""slow"",\nthen fast"');
    expect(JSON.parse(text('datapackage.json'))).toMatchObject({
      name: 'ropes-lamps-no1',
      title: 'Ropes & Lamps, №1',
    });
    expect(text('playlist.m3u8')).toBe(
      '#EXTM3U\n#PLAYLIST:Ropes & Lamps, №1\n#EXTINF:4,Rope\nsamples/Rope.wav\n',
    );
    expect(text('licences.txt')).toContain('not stated:\n  samples/Rope.wav');
  });

  test('in manifests the percent sign is written so that it is read again', () => {
    const sha256 = 'b'.repeat(64);
    const files = [{ path: 'samples/50 % off.wav', byteLength: 12, sha256 }];
    const tags = tagFilesOf(
      { pack: pack.parse({ name: 'x', about: 'two\nlines' }), writtenAt: '2026-03-01T' },
      files,
      () => sha256,
    );
    expect(tags.find(({ path }) => path === 'manifest-sha256.txt')!.text).toBe(
      `${sha256}  data/samples/50 %25 off.wav\n`,
    );
    expect(tags.find(({ path }) => path === 'bag-info.txt')!.text).toContain(
      'External-Description: two lines\n',
    );
  });
});
