'use client';
import { bytesInWords } from '@/words/bytes';
import { counted } from '@/words/plural';
import type { BinState } from '@/contract/bin';
import { hangingWords } from '@/words/hanging';
import { useQuery } from '@tanstack/react-query';
import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { deleteForGood, fetchBin } from '../../api/bin';
import { writeSettings } from '../../api/settings';
import { Button } from '../../kit/Button';
import { Select } from '../../kit/Select';
import { useAction } from '../../kit/useAction';

const DAYS = [7, 30, 90, 365];

/** What lies in the bin, when it is emptied, and emptying it now: all of it, or the selected samples. */
export function BinPanel({ selected }: { selected: readonly string[] }) {
  const { data: bin } = useQuery({ queryKey: ['intake', 'bin'], queryFn: ({ signal }) => fetchBin(signal) });
  return bin && bin.samples > 0 ? <Filled bin={bin} selected={selected} /> : null;
}

function Filled({ bin, selected }: { bin: BinState; selected: readonly string[] }) {
  const [isAsking, setAsking] = useState(false);
  const [done, setDone] = useState<number | null>(null);
  const some = selected.length > 1 ? selected : null;
  const count = some ? some.length : bin.samples;
  const remove = useAction({
    run: () => deleteForGood(some, setDone).finally(() => setDone(null)),
    says: ({ samples, bytes }) => `${counted(samples, 'sample')} deleted; ${bytesInWords(bytes)} freed.`,
    then: () => setAsking(false),
  });
  const keepFor = useAction({
    run: (binDays: number | null) => writeSettings({ binDays }),
    renews: ['intake', 'bin'],
  });
  const days = [...new Set([...DAYS, ...(bin.binDays ? [bin.binDays] : [])]), null];
  return (
    <section
      aria-label="Bin"
      className="flex shrink-0 flex-wrap items-center gap-2 border-b border-rule bg-sheet px-4 py-2 text-small"
    >
      <Trash2 className="size-4 text-ink-soft" aria-hidden />
      {isAsking ? (
        <>
          <span role="alert">
            Delete {counted(count, 'sample')} for good?
            {some
              ? ''
              : ` ${bytesInWords(bin.bytes)} will be freed.${hangingWords(bin.hanging, bin.samples)}`}{' '}
            This cannot be undone.
          </span>
          <Button tone="strong" disabled={remove.isBusy} onClick={() => remove.act()}>
            {done === null ? `Delete ${counted(count, 'sample')}` : `${done} of ${count} …`}
          </Button>
          <Button disabled={remove.isBusy} onClick={() => setAsking(false)}>
            Cancel
          </Button>
        </>
      ) : (
        <>
          <span>
            <b className="figures">{counted(bin.samples, 'sample')}</b>,{' '}
            <span className="figures">{bytesInWords(bin.bytes)}</span>
          </span>
          <Select
            label="Delete after"
            place="beside"
            value={bin.binDays}
            options={days}
            text={(one) => (one === null ? 'never' : `${one} days`)}
            onChange={(binDays) => keepFor.act(binDays)}
          />
          <Button className="ml-auto" onClick={() => setAsking(true)}>
            {some ? `Delete ${counted(count, 'sample')}…` : 'Empty bin…'}
          </Button>
        </>
      )}
    </section>
  );
}
