'use client';
import clsx from 'clsx';
import { useState } from 'react';
import { toast } from 'sonner';
import { api } from '../api/client';
import { Button } from '../pieces/Button';
import { TextField } from '../pieces/Field';
import type { Bench } from './useBench';

/** What was done to the sample, newest first, and measuring again within a range. */
export function HistoryCard({ bench }: { bench: Bench }) {
  const { history, sequence, summary, warnings } = bench.entry;
  const [low, setLow] = useState('');
  const [high, setHigh] = useState('');
  const ranged = low !== '' || high !== '';
  const range = ranged ? { low: Number(low), high: Number(high) } : null;
  const bad = range !== null && !(range.low >= 20 && range.high <= 500 && range.high >= range.low * 1.05);
  return (
    <div className="space-y-3 text-small">
      <form
        className="flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (bad) return;
          api
            .measureAgain(summary.sampleId, range)
            .then(() => toast('Put ahead in the queue; the new readings will stand beside the old ones.'))
            .catch((error: Error) => toast.error(error.message));
        }}
      >
        <label className="text-ink-soft">
          Tempo between
          <span className="mt-0.5 flex items-center gap-1">
            <TextField
              className="figures w-16"
              inputMode="numeric"
              placeholder="any"
              aria-label="Lowest tempo"
              aria-invalid={bad}
              value={low}
              onChange={(event) => setLow(event.target.value)}
            />
            and
            <TextField
              className="figures w-16"
              inputMode="numeric"
              placeholder="any"
              aria-label="Highest tempo"
              aria-invalid={bad}
              value={high}
              onChange={(event) => setHigh(event.target.value)}
            />
          </span>
        </label>
        <Button type="submit" disabled={bad}>
          Measure again
        </Button>
      </form>
      {bad && <p className="text-one">The range runs from 20 to 500 BPM, its end above its beginning.</p>}
      {warnings.length > 0 && (
        <ul className="list-disc pl-4 text-ink-soft">
          {warnings.map((warning) => (
            <li key={warning}>{warning}</li>
          ))}
        </ul>
      )}
      <ol aria-label="History" reversed className="border-t border-rule">
        {[...history].reverse().map((revision) => (
          <li
            key={revision.sequence}
            aria-current={revision.sequence === sequence ? 'step' : undefined}
            className={clsx(
              'border-b border-rule py-1 pl-2',
              revision.sequence === sequence && 'bg-wash-ink font-semibold',
              revision.abandoned && 'text-ink-soft line-through',
            )}
          >
            {revision.words}
            <span className="block text-tiny font-normal text-ink-soft no-underline">
              {revision.madeBy}, {new Date(revision.madeAt).toLocaleString()}
            </span>
          </li>
        ))}
      </ol>
    </div>
  );
}
