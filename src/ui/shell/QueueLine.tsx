'use client';
import { MAKING_KINDS } from '@/contract/tasks';
import { useTasks } from '../api/tasks';

/** What is measured and what is made, in one line; nothing when all rests. */
export function QueueLine() {
  const { data } = useTasks();
  const { waiting = 0, running = 0, doneLately = 0, paused = false } = data?.measuring ?? {};
  const making = (data?.tasks ?? []).filter(
    ({ kind, state }) =>
      (MAKING_KINDS as readonly string[]).includes(kind) && (state === 'running' || state === 'waiting'),
  );
  const [made, wanted] = making.reduce(
    ([a, b], { done, failed, files }) => [a + done + failed, b + files],
    [0, 0],
  );
  const isMeasuring = waiting + running > 0;
  if (!isMeasuring && making.length === 0) return null;
  return (
    <span role="status" className="figures text-small text-ink-soft">
      {making.length > 0 && `making ${made + 1} of ${wanted}`}
      {making.length > 0 && isMeasuring && ' · '}
      {isMeasuring && `${paused ? 'measuring rests' : `measuring ${running}`}, waiting ${waiting}`}
      {isMeasuring && doneLately > 0 && `, ${doneLately} in the last minute`}
    </span>
  );
}
