import type { SampleEntry } from '@/core/library/entry';
import { RefusedError } from '../api/request';
import { Outbox, type SampleOrder } from './outbox';

const note = (words: string): SampleOrder => ({ do: 'settle', words, patch: { note: words } });
const turn = () => new Promise((resolve) => setTimeout(resolve, 0));

/** A server that keeps revisions and can be out of reach. */
function server() {
  const said: { base: number | null; words: string }[] = [];
  const state = { sequence: 1, reachable: true };
  const send = async (_: string, base: number | null, order: SampleOrder): Promise<SampleEntry> => {
    await turn();
    if (!state.reachable) throw new RefusedError('Grento does not answer.', 0);
    said.push({ base, words: order.do === 'settle' ? order.words : order.do });
    if (base !== state.sequence) throw new RefusedError('It was changed elsewhere.', 409);
    state.sequence++;
    return { sequence: state.sequence } as SampleEntry;
  };
  return { said, state, send };
}

/** What a test that fails leaves unsent would be tried again for ever. */
let opened: Outbox[] = [];
afterEach(() => {
  for (const box of opened) box.giveBack();
  opened = [];
});

function outbox() {
  const there = server();
  const box = new Outbox('a', there.send as never);
  opened.push(box);
  const stored: (number | null)[] = [];
  const refused: string[] = [];
  box.tell({
    onStored: ({ sequence }) => stored.push(sequence),
    onRefused: ({ words }) => refused.push(words),
  });
  const add = (words: string, seen: number | null = 1) => box.add(note(words), words, box.baseNow(seen));
  return { ...there, box, add, stored, refused };
}

test('changes in quick succession go one after the other, each based on what the one before it made', async () => {
  const { add, said, stored, box } = outbox();
  // Nothing was drawn anew between them: all were begun while revision 1 was shown.
  expect(await Promise.all([add('one'), add('two'), add('three')])).toEqual([true, true, true]);
  expect(said.map(({ base }) => base)).toEqual([1, 2, 3]);
  expect(stored).toEqual([2, 3, 4]);
  // Stored, but what it made is not drawn yet.
  expect(await add('four', 3)).toBe(true);
  expect(box.getState()).toEqual({ unstored: [], trouble: null });
});

test('what a hand began before somebody else’s change is refused, not put over it', async () => {
  const { box, state, refused, said } = outbox();
  const base = box.baseNow(1);
  // While the hand still pulls, another curator's change comes in and is drawn.
  state.sequence = 2;
  expect(await box.add(note('pulled'), 'pulled', base)).toBe(false);
  expect(said).toEqual([{ base: 1, words: 'pulled' }]);
  expect(refused).toEqual(['pulled']);
  // Begun anew with what is shown now, it goes through.
  expect(await box.add(note('again'), 'again', box.baseNow(2))).toBe(true);
});

test('what was done on top of a refused change is given back with it', async () => {
  const { add, state, refused, said } = outbox();
  state.sequence = 7;
  expect(await Promise.all([add('first'), add('on top')])).toEqual([false, false]);
  expect(refused).toEqual(['first']);
  expect(said).toHaveLength(1);
});

test('out of reach, changes wait and are said not to be stored; then they are sent, in order', async () => {
  const { add, box, state, stored } = outbox();
  state.reachable = false;
  const both = Promise.all([add('one'), add('two')]);
  await turn();
  await turn();
  expect(box.getState()).toMatchObject({
    trouble: 'Grento does not answer.',
    unstored: [{ words: 'one', order: note('one') }, { words: 'two' }],
  });
  state.reachable = true;
  box.tryAgain();
  expect(await both).toEqual([true, true]);
  expect(stored).toEqual([2, 3]);
  expect(box.getState()).toEqual({ unstored: [], trouble: null });
});

test('what cannot be sent can be given back', async () => {
  const { add, box, state, said } = outbox();
  state.reachable = false;
  const one = add('one');
  await turn();
  await turn();
  box.giveBack();
  expect(await one).toBe(false);
  expect(box.getState()).toEqual({ unstored: [], trouble: null });
  state.reachable = true;
  expect(await add('two')).toBe(true);
  expect(said.map(({ words }) => words)).toEqual(['two']);
});

test('what is begun while nobody knows what comes of an undo is not put over what comes of it', async () => {
  const { box, add, refused } = outbox();
  void box.add({ do: 'undo', evenForeign: false }, 'undo', box.baseNow(1));
  expect(await box.add(note('averaged'), 'averaged', box.baseNow(1, false))).toBe(false);
  expect(refused).toEqual(['averaged']);
  expect(await add('averaged anew', 2)).toBe(true);
});
