'use client';
import { useQuery } from '@tanstack/react-query';
import { api } from '../api/client';

/** What the measuring process does, in one line; nothing when it rests. */
export function QueueLine() {
  const { data } = useQuery({
    queryKey: ['queue'],
    queryFn: ({ signal }) => api.queue(signal),
    refetchInterval: (query) => ((query.state.data?.running ?? 0) > 0 ? 1500 : 10_000),
  });
  const { waiting = 0, running = 0, doneLately = 0, paused = false } = data ?? {};
  if (waiting + running === 0) return null;
  return (
    <span role="status" className="figures text-small text-ink-soft">
      {paused ? 'measuring rests' : `measuring ${running}`}, waiting {waiting}
      {doneLately > 0 && `, ${doneLately} in the last minute`}
    </span>
  );
}
