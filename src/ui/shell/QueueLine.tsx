'use client';
import { useQuery } from '@tanstack/react-query';
import { api } from '../api/client';

/** What the measuring process does, in one line; nothing when it rests. */
export function QueueLine() {
  const { data } = useQuery({
    queryKey: ['intake', 'queue'],
    queryFn: ({ signal }) => api.intake(new URLSearchParams({ limit: '1' }), signal),
    refetchInterval: (query) => ((query.state.data?.measuring.running ?? 0) > 0 ? 2000 : 15_000),
  });
  const { waiting = 0, running = 0, doneLately = 0 } = data?.measuring ?? {};
  if (waiting + running === 0) return null;
  return (
    <span role="status" className="figures text-small text-ink-soft">
      measuring {running}, waiting {waiting}
      {doneLately > 0 && `, ${doneLately} in the last minute`}
    </span>
  );
}
