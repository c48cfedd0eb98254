import { readClaims, readMarks, readTags } from './tagReading';

const of = <P extends string>(readings: readonly { property: string }[], property: P) =>
  readings.filter((reading) => reading.property === property);

describe('tag fields', () => {
  test.each([
    ['TBPM', '128', 128],
    ['bpm', ' 96.5 ', 96.5],
    ['TEMPO', '88,25', 88.25],
    ['tmpo', '174', 174],
  ])('%s “%s” says %d', (field, text, bpm) => {
    expect(readTags([{ field, text }])).toEqual([
      expect.objectContaining({ property: 'tempo', value: bpm, source: 'embedded tag' }),
    ]);
  });

  test.each([
    ['TKEY', 'Am', { tonic: 9, mode: 'minor' }],
    ['initialkey', 'F#', { tonic: 6, mode: 'major' }],
    ['KEY', 'Eb minor', { tonic: 3, mode: 'minor' }],
    ['TKEY', 'o', { none: true }],
  ])('%s “%s” says a key', (field, text, key) => {
    expect(of(readTags([{ field, text }]), 'key')).toEqual([expect.objectContaining({ value: key })]);
  });

  test.each([
    ['TBPM', '0'],
    ['TBPM', '9'],
    ['BPM', '4000'],
    ['BPM', 'fast'],
    ['TKEY', 'none of your business'],
    ['TITLE', '128'],
    ['COMMENT', 'Am'],
  ])('%s “%s” says nothing', (field, text) => {
    expect(readTags([{ field, text }])).toEqual([]);
  });

  test('the first of several counts', () => {
    const readings = readTags([
      { field: 'TBPM', text: '90' },
      { field: 'BPM', text: '180' },
      { field: 'TKEY', text: 'Dm' },
      { field: 'KEY', text: 'F' },
    ]);
    expect(of(readings, 'tempo')).toEqual([expect.objectContaining({ value: 90, detail: 'TBPM “90”' })]);
    expect(of(readings, 'key')).toHaveLength(1);
  });
});

describe('the header of a performance', () => {
  test('says next to nothing where nobody set it', () => {
    const usual = readClaims({
      bpm: 120,
      meter: { beatsPerBar: 4, beatUnit: 4 },
      key: { tonic: 0, mode: 'major' },
    });
    expect(usual.map(({ sureness }) => sureness)).toEqual([0.1, 0.2, 0.2]);
    expect(usual[0].detail).toContain('120 when nobody set it');
  });

  test('says more where somebody did', () => {
    const set = readClaims({
      bpm: 97,
      meter: { beatsPerBar: 3, beatUnit: 4 },
      key: { tonic: 7, mode: 'minor' },
    });
    expect(set.map(({ property }) => property)).toEqual(['tempo', 'meter', 'key']);
    expect(set.every(({ sureness }) => sureness >= 0.5)).toBe(true);
  });

  test('says nothing where it has nothing', () => {
    expect(readClaims({ bpm: null, meter: null, key: null })).toEqual([]);
  });
});

describe('marks in a file', () => {
  const nothing = { cues: [], loop: null, texts: [] };

  test.each([
    'one',
    'The One',
    'downbeat',
    'first downbeat',
    'bar 1',
    'Bar 01',
    '1',
    '1.1',
    '1|1',
    '01:01:01',
  ])('a cue “%s” is the one', (label) => {
    const cues = [
      { frame: 100, label: 'verse' },
      { frame: 22050, label },
    ];
    expect(readMarks({ ...nothing, cues }, 44100)).toEqual([
      expect.objectContaining({ property: 'one', value: 0.5 }),
    ]);
  });

  test.each(['bar 11', 'verse 1', '2', '10', 'onetime', ''])('a cue “%s” is not', (label) => {
    expect(readMarks({ ...nothing, cues: [{ frame: 5, label }] }, 44100)).toEqual([]);
  });

  test('a named cue goes before the beginning of a loop', () => {
    const marks = { ...nothing, cues: [{ frame: 8000, label: 'one' }], loop: { start: 400, end: 90000 } };
    expect(of(readMarks(marks, 8000), 'one')).toEqual([expect.objectContaining({ value: 1 })]);
    expect(readMarks({ ...marks, cues: [] }, 8000)).toEqual([
      expect.objectContaining({ property: 'one', value: 0.05, sureness: 0.4 }),
    ]);
  });

  test.each([
    ['slow drums, 96 bpm', 96],
    ['Tempo: 87.5', 87.5],
    ['bpm=174', 174],
    ['92,5 BPM live', 92.5],
  ])('“%s” says a tempo', (text, bpm) => {
    const readings = readMarks({ ...nothing, texts: [{ field: 'ICMT', text }] }, 44100);
    expect(of(readings, 'tempo')).toEqual([expect.objectContaining({ value: bpm })]);
  });

  test.each([
    ['key: Am', { tonic: 9, mode: 'minor' }],
    ['strings in D minor', { tonic: 2, mode: 'minor' }],
    ['Key E', { tonic: 4, mode: 'major' }],
    ['Bb major pad', { tonic: 10, mode: 'major' }],
  ])('“%s” says a key', (text, key) => {
    const readings = readMarks({ ...nothing, texts: [{ field: 'ICMT', text }] }, 44100);
    expect(of(readings, 'key')).toEqual([expect.objectContaining({ value: key })]);
  });

  test.each(['Take 120', 'recorded in 1998 by a minor company', 'A major label would not', 'tempo 5'])(
    '“%s” says no tempo',
    (text) => {
      const readings = readMarks({ ...nothing, texts: [{ field: 'ICMT', text }] }, 44100);
      expect(of(readings, 'tempo')).toEqual([]);
    },
  );
});
