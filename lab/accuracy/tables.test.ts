import { LOOP_TARGETS, loopTable, SONG_TARGETS, songTable, targetRows } from './tables';

const song = {
  kind: 'songs',
  figure: 'Acc1',
  from: ['ALL', 'Acc1'] as [string, string],
  wanted: 94,
  scale: 100,
};

test('a target is reached, short, or not known', () => {
  const scores = (value: number | null) => ({ ALL: { Acc1: value } });
  expect(targetRows([song], [scores(0.94)])).toEqual([['songs', 'Acc1', '≥ 94 %', '94.0 %', 'reached']]);
  expect(targetRows([song], [scores(0.939)])[0].slice(3)).toEqual(['93.9 %', 'short']);
  expect(targetRows([song], [scores(null), {}])[0].slice(3)).toEqual(['–', '', '–', '']);
});

test('some targets are at most, and not in percent', () => {
  const target = { ...song, scale: 1, wanted: 3, atMost: true, unit: ' cents' };
  expect(targetRows([target], [{ ALL: { Acc1: 3 } }, { ALL: { Acc1: 3.2 } }])[0]).toEqual([
    'songs',
    'Acc1',
    '≤ 3 cents',
    '3.0 cents',
    'reached',
    '3.2 cents',
    'short',
  ]);
});

test('no target is named twice', () => {
  const names = [...SONG_TARGETS, ...LOOP_TARGETS].map(({ kind, figure }) => `${kind}: ${figure}`);
  expect(new Set(names).size).toBe(names.length);
});

test('tables have a row per group; what is not known is a dash, numbers of items are whole', () => {
  const table = (head: readonly string[], rows: readonly (readonly string[])[]) =>
    [head, ...rows].map((row) => row.join('|')).join('\n');
  const [head, row] = songTable({ ' folk': { Acc1: 0.5, key: null } }, table).split('\n');
  expect(head.split('|').slice(0, 2)).toEqual(['', 'Acc1']);
  expect(row.split('|').slice(0, 2)).toEqual(['folk', '50.0']);
  expect(row).toContain('–');
  expect(loopTable({ loop: { n: 84, acc1: 92.857 } }, table).split('\n')[1]).toMatch(/^loop\|84\|92\.9\|/);
});
