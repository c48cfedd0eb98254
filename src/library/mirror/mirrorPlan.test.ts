import { mirrorPlan, type Mirrored, type Wanted, type Written } from './mirrorPlan';

const file = (mtimeMs: number, size = 100): Written => ({ size, mtimeMs });
const wanted = (id: string, path: string, state = '1'): Wanted => ({ sampleId: id, path, state, seconds: 4 });
const known = (one: Wanted, was: Written, before: Written | null = null): Mirrored => ({
  ...{ sampleId: one.sampleId, state: one.state, seconds: 4, wanted: one.path, file: was, before },
});
const rope = wanted('a', 'loop/Rope.wav');
const lamp = wanted('b', 'loop/Lamp.wav');

test('into an empty folder everything is written, equal names numbered, also where only capitals differ', () => {
  const plan = mirrorPlan(
    [rope, wanted('c', 'loop/ROPE.wav'), wanted('d', 'loop/rope.wav')],
    new Map(),
    new Map(),
  );
  expect(plan.write.map(({ to }) => to)).toEqual(['loop/Rope.wav', 'loop/ROPE (2).wav', 'loop/rope (3).wav']);
  expect(plan).toMatchObject({ remove: [], unchanged: 0, foreign: [] });
});

test('what is as it was written is left, what was settled otherwise is written in its place', () => {
  const is = new Map([
    ['loop/Rope.wav', known(rope, file(1000))],
    ['loop/Lamp.wav', known(lamp, file(2000))],
  ]);
  const found = new Map([
    // Some systems keep times to two seconds.
    ['loop/Rope.wav', file(2000)],
    ['loop/Lamp.wav', file(2000)],
  ]);
  const plan = mirrorPlan([rope, { ...lamp, state: '2' }], is, found);
  expect(plan.unchanged).toBe(1);
  expect(plan.write.map(({ to, sampleId }) => [to, sampleId])).toEqual([['loop/Lamp.wav', 'b']]);
});

test('what is there and not the mirror’s is never written over nor removed', () => {
  const found = new Map([
    ['loop/Rope.wav', file(5)],
    ['notes.txt', file(6)],
  ]);
  const plan = mirrorPlan([rope], new Map(), found);
  expect(plan.write.map(({ to }) => to)).toEqual(['loop/Rope (2).wav']);
  expect(plan.remove).toEqual([]);
});

test('what somebody changed is left and told as long as its sample is wanted, and is theirs after that', () => {
  const is = new Map([['loop/Rope.wav', known(rope, file(1000))]]);
  const found = new Map([['loop/Rope.wav', file(90_000)]]);
  const plan = mirrorPlan([{ ...rope, state: '2' }, lamp], is, found);
  expect(plan.foreign).toEqual(['loop/Rope.wav']);
  expect(plan.write.map(({ to }) => to)).toEqual(['loop/Lamp.wav']);
  expect(mirrorPlan([lamp], is, found)).toMatchObject({
    foreign: [],
    forgotten: ['loop/Rope.wav'],
    remove: [],
  });
});

test('a name that is free again is taken, and a numbered one stays where it is', () => {
  const second = wanted('c', 'loop/Rope.wav');
  const is = new Map([
    ['loop/Rope.wav', known(rope, file(1000))],
    ['loop/Rope (2).wav', known(second, file(1000))],
  ]);
  const found = new Map([...is].map(([path]) => [path, file(1000)]));
  // The first has left: the second is not written again for its number.
  expect(mirrorPlan([second], is, found)).toMatchObject({
    remove: ['loop/Rope.wav'],
    write: [],
    unchanged: 1,
  });
  // The first is called otherwise, and a third takes its name.
  const plan = mirrorPlan([wanted('a', 'loop/Knot.wav'), second, wanted('e', 'loop/Rope.wav')], is, found);
  expect(plan.remove).toEqual(['loop/Rope.wav']);
  expect(plan.write.map(({ to }) => to)).toEqual(['loop/Knot.wav', 'loop/Rope.wav']);
});

test('what was announced and not put in its place is done again, new or in the place of an older one', () => {
  const announced = new Map([
    ['loop/Rope.wav', known(rope, file(9000))],
    ['loop/Lamp.wav', known(lamp, file(9000), file(1000))],
  ]);
  const found = new Map([['loop/Lamp.wav', file(1000)]]);
  const plan = mirrorPlan([rope, lamp], announced, found);
  expect(plan).toMatchObject({ foreign: [], unchanged: 0 });
  expect(plan.write.map(({ to }) => to)).toEqual(['loop/Rope.wav', 'loop/Lamp.wav']);
});
