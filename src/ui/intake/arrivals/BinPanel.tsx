'use client';
import { hangingWords } from '@/words/hanging';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { deleteForGood, fetchBin } from '../../api/bin';
import { writeSettings } from '../../api/settings';
import { Button } from '../../pieces/Button';
import { fieldClass } from '../../pieces/Field';

const DAYS = [7, 30, 90, 365];
const counted = (count: number) => `${count.toLocaleString('en')} ${count === 1 ? 'sample' : 'samples'}`;
const megabytes = (bytes: number) => `${(bytes / 1e6).toLocaleString('en', { maximumFractionDigits: 1 })} MB`;

/** What lies in the bin, when it is emptied, and how it is emptied now: all of it, or the selected samples. */
export function BinPanel({ selected }: { selected: readonly string[] }) {
  const queries = useQueryClient();
  const { data: bin } = useQuery({ queryKey: ['intake', 'bin'], queryFn: ({ signal }) => fetchBin(signal) });
  const [isAsking, setAsking] = useState(false);
  const [done, setDone] = useState<number | null>(null);
  if (!bin || bin.samples === 0) return null;
  const some = selected.length > 1 ? selected : null;
  const count = some ? some.length : bin.samples;
  const remove = async () => {
    setDone(0);
    try {
      const { samples, bytes } = await deleteForGood(some, setDone);
      toast(`${counted(samples)} deleted; ${megabytes(bytes)} are free.`);
    } catch (error) {
      toast.error((error as Error).message);
    } finally {
      setDone(null);
      setAsking(false);
      void queries.invalidateQueries();
    }
  };
  const keepFor = (value: string) =>
    writeSettings({ binDays: value === '' ? null : Number(value) })
      .then(() => queries.invalidateQueries({ queryKey: ['intake', 'bin'] }))
      .catch((error: Error) => toast.error(error.message));
  return (
    <section
      aria-label="Bin"
      className="flex shrink-0 flex-wrap items-center gap-2 border-b border-rule bg-sheet px-4 py-2 text-small"
    >
      <Trash2 className="size-4 text-ink-soft" aria-hidden />
      {isAsking ? (
        <>
          <span role="alert">
            Delete {counted(count)} for good?
            {some
              ? ''
              : ` ${megabytes(bin.bytes)} become free.${hangingWords(bin.hanging, bin.samples)}`}{' '}
            This cannot be undone.
          </span>
          <Button tone="strong" disabled={done !== null} onClick={() => void remove()}>
            {done === null ? `Delete ${counted(count)}` : `${done} of ${count} …`}
          </Button>
          <Button disabled={done !== null} onClick={() => setAsking(false)}>
            Cancel
          </Button>
        </>
      ) : (
        <>
          <span>
            <b className="figures">{counted(bin.samples)}</b>,{' '}
            <span className="figures">{megabytes(bin.bytes)}</span>
          </span>
          <label className="flex items-center gap-1.5">
            Delete after
            <select
              className={fieldClass}
              value={bin.binDays ?? ''}
              onChange={(event) => void keepFor(event.target.value)}
            >
              {[...new Set([...DAYS, ...(bin.binDays ? [bin.binDays] : [])])].map((days) => (
                <option key={days} value={days}>
                  {days} days
                </option>
              ))}
              <option value="">never</option>
            </select>
          </label>
          <Button className="ml-auto" onClick={() => setAsking(true)}>
            {some ? `Delete ${counted(count)} …` : 'Empty bin …'}
          </Button>
        </>
      )}
    </section>
  );
}
