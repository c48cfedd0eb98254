import { nothing } from '@/core/measurement/measure';
import { remarks } from '@/core/measurement/remark';
import { notesOf, remarkWords } from './remarks';

test('remarks that were kept as sentences are read as codes, and have words', () => {
  const sentences = [
    'There is only silence.',
    'There are only drums: no key.',
    'No pitch in it lasts: no root.',
    'There is not enough lasting tone for a key.',
    'A one-shot has no tempo.',
    'Nothing repeats often enough for a tempo.',
    'It sounds like speech: what recurs in it need be no beat, and no key.',
    'The tempo moves: the grid follows the player.',
    'The tempo could also be 87.5 BPM.',
  ];
  const codes = remarks.parse(sentences);
  expect(new Set(codes.map(({ code }) => code)).size).toBe(sentences.length);
  expect(codes.map(remarkWords)).toEqual([
    'Only silence.',
    'Drums only: no key.',
    'No sustained pitch: no root.',
    'Not enough sustained pitch for a key.',
    'A one-shot has no tempo.',
    'Too little repetition for a tempo.',
    'It sounds like speech: tempo and key may be meaningless.',
    'The tempo changes: the grid follows the player.',
    'The tempo could also be 87.5 BPM.',
  ]);
  expect(remarks.parse(codes)).toEqual(codes);
  expect(remarks.parse(['A sentence of nobody’s.'])).toEqual([]);
  expect(() => remarks.parse([{ code: 'nonsense' }])).toThrow();
});

test('warnings of what was read come before what measuring remarks', () => {
  const measurement = nothing(1, { code: 'one-shot' });
  expect(notesOf({ warnings: ['It ends early.'], measurement })).toEqual([
    'It ends early.',
    'A one-shot has no tempo.',
  ]);
  expect(notesOf({ warnings: [], measurement: null })).toEqual([]);
});
