'use client';
import { useTasks } from '../api/tasks';

/** What the measuring does, in one line; nothing when it rests. */
export function QueueLine() {
  const { data } = useTasks();
  const { waiting = 0, running = 0, doneLately = 0, paused = false } = data?.measuring ?? {};
  if (waiting + running === 0) return null;
  return (
    <span role="status" className="figures text-small text-ink-soft">
      {paused ? 'measuring rests' : `measuring ${running}`}, waiting {waiting}
      {doneLately > 0 && `, ${doneLately} in the last minute`}
    </span>
  );
}
