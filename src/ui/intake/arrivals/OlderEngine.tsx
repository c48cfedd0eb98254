'use client';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { counted } from '@/words/plural';
import { compareEngines, fetchEngine, stopComparing } from '../../api/intake';
import { Button } from '../../kit/Button';
import { useAction } from '../../kit/useAction';

const KEY = ['engine'];
/** ms */
const COUNTED_EVERY = { whileComparing: 10_000, otherwise: 60_000 };

/** Says how many samples an earlier version measured, and has this one listen to them: what is settled stays. */
export function OlderEngine() {
  const { data } = useQuery({
    queryKey: KEY,
    queryFn: ({ signal }) => fetchEngine(signal),
    placeholderData: keepPreviousData,
    // All samples of an older library are counted: not with every change.
    refetchInterval: ({ state }) =>
      state.data?.comparing ? COUNTED_EVERY.whileComparing : COUNTED_EVERY.otherwise,
  });
  const compare = useAction({
    run: compareEngines,
    renews: KEY,
    says: ({ samples }) =>
      `${counted(samples, 'sample')} will be measured for comparison, after everything else in the queue. Nothing settled changes.`,
  });
  const stop = useAction({
    run: stopComparing,
    renews: KEY,
    says: ({ samples }) => `${counted(samples, 'comparison')} cancelled.`,
  });
  if (!data || (!data.older && data.comparing === 0)) return null;
  const { comparing } = data;
  const older = data.older ?? 0;
  return (
    <section
      aria-label="Earlier version"
      className="flex flex-wrap items-center gap-2 text-tiny text-ink-soft"
    >
      {comparing > 0 ? (
        <>
          Comparing with this version: {counted(comparing, 'sample')} to go.
          <Button small disabled={stop.isBusy} onClick={() => stop.act()}>
            Cancel
          </Button>
        </>
      ) : (
        <>
          {counted(older, 'sample was', 'samples were')} measured by an earlier version.
          <Button small disabled={compare.isBusy} onClick={() => compare.act()}>
            Compare
          </Button>
        </>
      )}
    </section>
  );
}
