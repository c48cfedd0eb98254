import type { LongTask } from '@/contract/tasks';
import { trayOf } from './tray';

const NOW = Date.parse('2026-03-01T10:00:00Z');
const ago = (minutes: number) => new Date(NOW - 60_000 * minutes).toISOString();
const task = (taskId: number, more: Partial<LongTask> = {}): LongTask => ({
  ...{ taskId, kind: 'render', words: `task ${taskId}`, state: 'done', fault: null, files: 1, done: 1 },
  ...{
    failed: 0,
    bytes: 0,
    received: 0,
    faults: [],
    made: [],
    canBeRetried: false,
    current: null,
    endedAt: ago(1),
  },
  ...more,
});
const ids = (tasks: readonly LongTask[]) => tasks.map(({ taskId }) => taskId);

test('what goes on, what failed, and what has finished by kind, the newest first', () => {
  const tray = trayOf(
    [
      task(1),
      task(2, { kind: 'mix' }),
      task(3),
      task(4, { state: 'running', endedAt: null }),
      task(5, { failed: 1 }),
      task(6, { state: 'paused', endedAt: null, failed: 1 }),
      task(7, { state: 'failed', fault: 'the line broke' }),
    ],
    NOW,
  );
  expect(ids(tray.going)).toEqual([6, 4]);
  expect(ids(tray.failed)).toEqual([7, 5]);
  expect(tray.ended.map(({ kind, tasks }) => [kind, ids(tasks)])).toEqual([
    ['render', [3, 1]],
    ['mix', [2]],
  ]);
  expect(tray.count).toBe(3);
});

test('what finished an hour ago has gone by itself; what failed then has not', () => {
  const old = { endedAt: ago(61) };
  const tray = trayOf([task(1, old), task(2, { ...old, failed: 2 }), task(3)], NOW);
  expect([ids(tray.failed), tray.count]).toEqual([[2], 1]);
});
