import { whyNotTagged } from './taggable';

test.each([
  ['wav', false, null],
  ['midi', true, null],
  ['midi', false, 'no tempo and no first downbeat'],
  [null, true, 'not audio'],
])('of %s, with a grid: %s, a tagged copy is refused for: %s', (format, hasGrid, why) => {
  const said = whyNotTagged({ name: 'Rope Walk', format }, hasGrid);
  if (why === null) expect(said).toBeNull();
  else expect(said).toContain(why);
});
