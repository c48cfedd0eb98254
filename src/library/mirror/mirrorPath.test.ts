import type { SampleSummary } from '@/contract/entry';
import { mirrorPath } from './mirrorPath';

const row = {
  ...{ name: 'Rope walk 96.wav', folder: 'Property room/ropes', kind: 'loop', format: 'wav', bars: 4 },
  ...{ tempoBpm: 96, beatsPerBar: 4, beatUnit: 4, keyTonic: 9, keyMode: 'minor', toneless: false },
  tags: [{ facet: 'part', value: 'bass' }],
} as unknown as SampleSummary;
const NAMES = '{name}[ {bpm} bpm][ {key}]';

test.each([
  ['{kind}', 'loop/Rope walk 96 bpm Am.wav'],
  ['{kind}/{part}', 'loop/bass/Rope walk 96 bpm Am.wav'],
  ['by tempo/{bpm0} bpm', 'by tempo/96 bpm/Rope walk 96 bpm Am.wav'],
  ['', 'Rope walk 96 bpm Am.wav'],
])('folders %p', (folders, path) => {
  expect(mirrorPath(row, folders, NAMES)).toBe(path);
});

test('a folder that a sample has nothing for is left out, with the words that hang on it', () => {
  expect(mirrorPath({ ...row, tags: [] }, '{kind}/{part}', '{name}')).toBe('loop/Rope walk 96.wav');
  expect(mirrorPath({ ...row, tempoBpm: null }, '[{bpm0} bpm]/{kind}', '{name}')).toBe(
    'loop/Rope walk 96.wav',
  );
});

test('no path leads out of the folder or is refused by a system', () => {
  const odd = {
    ...row,
    name: '../..\\up:?.wav',
    tags: [{ facet: 'part', value: 'full mix' }],
  } as SampleSummary;
  const path = mirrorPath(odd, '../{part}', '{name}');
  expect(path.split('/')).not.toContain('..');
  expect(path).not.toMatch(/[\\:?]/);
  expect(mirrorPath(odd, '.grento', '{name}')).not.toMatch(/^\.grento/);
});

test('what a template does not know is refused', () => {
  expect(() => mirrorPath(row, '{tempo}', '{name}')).toThrow('{tempo}');
  expect(() => mirrorPath(row, '{kind}', '{nme}')).toThrow('{nme}');
});
