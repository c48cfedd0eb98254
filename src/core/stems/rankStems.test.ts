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
