import { EMPTY_STATE } from '@/contract/settled';
import type { SampleOrder } from '../outbox/sampleOutbox';
import { withUnstored } from './unstored';

const state = (note: string) => ({ ...EMPTY_STATE, note });
const note = (words: string): SampleOrder => ({ do: 'settle', words, patch: { note: words } });
const UNDO: SampleOrder = { do: 'undo', evenForeign: false };
const REDO: SampleOrder = { do: 'redo' };
const stored = {
  settled: state('now'),
  undo: { words: 'noted', settled: state('before') },
  redo: { words: 'noted', settled: state('later') },
};
const shown = (...orders: SampleOrder[]) => {
  const { settled, isKnown } = withUnstored(
    stored,
    orders.map((order) => ({ order })),
  );
  return isKnown ? settled.note : null;
};

test('what is on its way is shown as it will be: changes, and steps back and forth through them', () => {
  expect(shown()).toBe('now');
  expect(shown(note('a'), note('b'))).toBe('b');
  expect(shown(UNDO)).toBe('before');
  expect(shown(UNDO, REDO)).toBe('now');
  expect(shown(REDO)).toBe('later');
  expect(shown(note('a'), note('b'), UNDO, UNDO)).toBe('now');
  expect(shown(note('a'), UNDO, REDO)).toBe('a');
  expect(shown(UNDO, note('a'))).toBe('a');
  expect(shown({ do: 'save' })).toBe('now');
});

test('where the page cannot know what comes of it, it says so', () => {
  expect(shown(UNDO, UNDO)).toBeNull();
  expect(shown(UNDO, UNDO, note('a'))).toBeNull();
  // A new change took the place of what could be redone.
  expect(shown(note('a'), REDO)).toBeNull();
  expect(shown({ do: 'return', sequence: 1 })).toBeNull();
});
