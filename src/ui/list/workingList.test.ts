import type { SampleSummary } from '@/contract/entry';
import { neighbours, rememberWorkingList } from './workingList';

const rows = (...names: string[]) =>
  names.map((name) => ({ sampleId: `id of ${name}`, name })) as SampleSummary[];

test('the Bench walks along the list that was shown last', () => {
  rememberWorkingList(rows('Jig', 'Reel', 'Waltz'));
  expect(neighbours('id of Reel')).toMatchObject({
    previous: { name: 'Jig' },
    next: { name: 'Waltz' },
    at: 1,
    count: 3,
  });
  expect(neighbours('id of Jig').previous).toBeNull();
  expect(neighbours('id of Waltz').next).toBeNull();
  rememberWorkingList(rows('Waltz', 'Jig'));
  expect(neighbours('id of Waltz').next).toMatchObject({ name: 'Jig' });
});

test('a sample that was not listed has no neighbours', () => {
  rememberWorkingList(rows('Jig', 'Reel'));
  expect(neighbours('id of March')).toEqual({ previous: null, next: null, at: -1, count: 2 });
});
