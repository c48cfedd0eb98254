import { RefusedError } from '../api/request';
import { SendQueue, type Change, type Send } from './sendQueue';
import { Outbox, type SampleOrder } from './sampleOutbox';

const note = (words: string): SampleOrder => ({ do: 'settle', words, patch: { note: words } });
const turn = () => new Promise((resolve) => setTimeout(resolve, 0));

/** A server that keeps revisions and answers to changes by their ids, and can be out of reach. */
function server() {
  const said: { base: number | null; words: string }[] = [];
  const state = { sequence: 1, reachable: true, losesAnswers: false };
  const answered = new Map<string, { sequence: number }>();
  const send: Send = async ({ id, body }) => {
    await turn();
    if (!state.reachable) throw new RefusedError('Grento does not answer.', 0);
    const before = answered.get(id);
    if (before) return before;
    const { base, order } = body as { base: number | null; order: SampleOrder };
    said.push({ base, words: order.do === 'settle' ? order.words : order.do });
    if (base !== state.sequence) throw new RefusedError('It was changed elsewhere.', 409);
    state.sequence++;
    answered.set(id, { sequence: state.sequence });
    if (state.losesAnswers) throw new RefusedError('The line broke.', 502);
    return { sequence: state.sequence };
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
  let kept: readonly Change[] = [];
  const queue = new SendQueue(there.send, (waiting) => (kept = waiting));
  const box = new Outbox('a', queue);
  opened.push(box);
  const stored: (number | null)[] = [];
  const refused: string[] = [];
  queue.tell({
    onStored: (_, answer) => stored.push((answer as { sequence: number }).sequence),
    onRefused: ({ words }) => refused.push(words),
  });
  const add = (words: string, seen: number | null = 1) => box.add(note(words), words, box.baseNow(seen));
  return { ...there, box, add, stored, refused, kept: () => kept };
}

test('changes in quick succession go one after the other, each based on what the one before it made', async () => {
  const { add, said, stored, box } = outbox();
  // Nothing was drawn again between them: all were begun while revision 1 was shown.
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
  // Begun again with what is shown now, it goes through.
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

test('an answer that is lost after the change was stored is asked for again, and what was typed behind it is sent', async () => {
  const { box, add, state, said, stored, refused } = outbox();
  state.losesAnswers = true;
  const both = Promise.all([add('one'), add('two')]);
  await turn();
  await turn();
  expect(box.getState().trouble).toBe('The line broke.');
  state.losesAnswers = false;
  box.tryAgain();
  expect(await both).toEqual([true, true]);
  expect(said).toEqual([
    { base: 1, words: 'one' },
    { base: 2, words: 'two' },
  ]);
  expect([stored, refused]).toEqual([[2, 3], []]);
});

test('what a page left unsent is sent by the next one, in order, and done once', async () => {
  const first = outbox();
  first.state.losesAnswers = true;
  void first.add('one');
  void first.add('two');
  await turn();
  await turn();
  const left = JSON.parse(JSON.stringify(first.kept())) as Change[];
  expect(left.map(({ words }) => words)).toEqual(['one', 'two']);
  first.box.giveBack();
  first.state.losesAnswers = false;
  const next = new SendQueue(first.send);
  next.adopt(left);
  await next.settled();
  expect(first.said).toEqual([
    { base: 1, words: 'one' },
    { base: 2, words: 'two' },
  ]);
});

test('more than can be kept is refused, not lost without a word', async () => {
  const { box, add, state } = outbox();
  state.reachable = false;
  for (let n = 0; n < 1000; n++) void add(`${n}`);
  expect(await add('one too many')).toBe(false);
  expect(box.getState().unstored).toHaveLength(1000);
});

test('what a session that is over could not store waits for whoever signs in again', async () => {
  let status = 401;
  const sent: string[] = [];
  const queue = new SendQueue(async ({ id }) => {
    sent.push(id);
    if (status) throw new RefusedError('Sign in first.', status);
    return {};
  });
  const stored = queue.add({ path: '/api/x', body: {}, words: 'kept' });
  await turn();
  expect(queue.getState()).toMatchObject({ waiting: [{ words: 'kept' }], trouble: expect.any(String) });
  status = 0;
  queue.tryAgain();
  await stored;
  expect(new Set(sent).size).toBe(1);
});
