import { scoreNames } from './names';

const item = (
  namedFile: string,
  bpmToken: number | null,
  keyToken: string | null,
  misleadingKind: string | null = null,
) => ({ namedFile, nameTruth: { bpmToken, keyToken, misleadingKind } });

test('names that are read as they are meant score; misleading numbers are no tempi', () => {
  const score = scoreNames([
    item('puppet_parade_120bpm_Am.wav', 120, 'A_min'),
    item('curtain call take 3.wav', null, null, 'take'),
  ]);
  expect(score).toMatchObject({ items: 2, tempoRight: 2, keyRight: 2, misleadingTaken: [], wrong: [] });
});

test('what is read otherwise is told by name', () => {
  const score = scoreNames([item('puppet_parade_120bpm_Am.wav', 98, 'C#_min')]);
  expect(score.tempoRight).toBe(0);
  expect(score.keyRight).toBe(0);
  expect(score.wrong.map(({ what }) => what)).toEqual(['tempo 120 for 98', 'key 9 minor for C#_min']);
});

test('a number that is taken for a tempo with some confidence, and is a year, is counted', () => {
  expect(scoreNames([item('loop 120 bpm.wav', null, null, 'year')]).misleadingTaken).toEqual([
    'loop 120 bpm.wav',
  ]);
});
