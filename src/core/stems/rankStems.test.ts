import type { Measurement } from '../measurement/schema';
import { nothing } from '../measurement/measure';
import { rankForGrid, rankForKey } from './rankStems';

const onsets = (from: number, every: number, strength = 9) =>
  Array.from({ length: 40 }, (_, i) => ({ time: from + i * every, strength }));
const tempo = (sureness: number) => ({ bpm: 118, sureness, alternatives: [], steady: true, bpmError: 0 });
const key = (sureness: number) => ({ tonic: 'B', mode: 'minor' as const, sureness, alternatives: [] });
const stem = (name: string, found: Partial<Measurement>) => ({
  id: name,
  name,
  measurement: { ...nothing(26), kind: 'loop' as const, ...found },
});

const drums = stem('Drums.wav', { tempo: tempo(0.95), theOneSureness: 0.9, onsets: onsets(0, 0.25) });
const chords = stem('Chords.wav', {
  tempo: tempo(0.7),
  theOneSureness: 0.9,
  onsets: onsets(0, 0.5),
  key: key(0.9),
});
const late = stem('Bells.wav', {
  tempo: tempo(0.95),
  theOneSureness: 0.5,
  onsets: onsets(14, 0.25),
  key: key(0.92),
});
const voice = stem('Humming.wav', { onsets: onsets(16, 1, 1), key: key(0.5) });
const all = [voice, late, chords, drums];

test('the clearest rhythm gives the grid: drums first, who begins late later, who has no tempo last', () => {
  const ranked = rankForGrid(all);
  expect(ranked[0].id).toBe('Drums.wav');
  expect(ranked[3]).toMatchObject({ id: 'Humming.wav', score: 0, reasons: ['no tempo found'] });
  expect(ranked.find(({ id }) => id === 'Bells.wav')!.reasons).toContain('begins late');
});

test('the clearest tones give the key: drums have none', () => {
  const ranked = rankForKey(all);
  expect(ranked[0].id).toBe('Chords.wav');
  expect(ranked[3].reasons).toEqual(['not enough lasting tone']);
});

test('three that agree outweigh the one that is clearest: half a beat beside them it does not give the grid', () => {
  const at = (name: string, one: number, sureness: number) =>
    stem(name, {
      ...{ tempo: tempo(sureness), theOne: one, theOneSureness: sureness },
      onsets: onsets(one, 60 / 118),
      meter: { beatsPerBar: 4, beatUnit: 4, sureness: 1 },
    });
  const half = 30 / 118;
  const set = [
    at('Drums.wav', 0.5 + half, 0.95),
    at('Bass.wav', 0.5, 0.8),
    at('Keys.wav', 0.51, 0.75),
    at('Pad.wav', 0.5 + (4 * 60) / 118, 0.7),
  ];
  const ranked = rankForGrid(set);
  expect(ranked[0].id).toBe('Bass.wav');
  const beside = ranked.find(({ id }) => id === 'Drums.wav')!;
  expect(beside.reasons).toContain('no other stem has this grid');
  // With them it does.
  expect(rankForGrid([at('Drums.wav', 0.5, 0.95), ...set.slice(1)])[0].id).toBe('Drums.wav');
});

test('three in C minor outweigh one that is surer of A♭ major', () => {
  const of = (name: string, tonic: string, mode: 'major' | 'minor', sureness: number) =>
    stem(name, { key: { tonic, mode, sureness, alternatives: [] } });
  const ranked = rankForKey([
    of('Chords.wav', 'Ab', 'major', 0.98),
    ...['Bass.wav', 'Lead.wav', 'Voice.wav'].map((name) => of(name, 'C', 'minor', 0.9)),
  ]);
  expect(ranked[0].id).not.toBe('Chords.wav');
});
