'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { tempoRange } from '@/contract/settings';
import { measureAgain } from '../../api/samples';
import { fetchSettings, writeSettings } from '../../api/settings';
import { Button } from '../../pieces/Button';
import { TextField } from '../../pieces/Field';

/** A range that the tempo must lie in: for measuring this sample again, or as the library's custom. */
export function RangePart({ sampleId }: { sampleId: string }) {
  const queries = useQueryClient();
  const { data: settings } = useQuery({
    queryKey: ['settings'],
    queryFn: ({ signal }) => fetchSettings(signal),
  });
  const custom = settings?.tempoRange ?? null;
  const [typed, setTyped] = useState({ low: '', high: '' });
  const empty = typed.low === '' && typed.high === '';
  const parsed = tempoRange.safeParse({ low: Number(typed.low), high: Number(typed.high) });
  const bad = !empty && !parsed.success;
  const range = empty || !parsed.success ? null : parsed.data;
  const keep = async () => {
    try {
      const next = await writeSettings({ tempoRange: range });
      queries.setQueryData(['settings'], next);
      toast(
        range
          ? `New samples are measured from ${range.low} to ${range.high} BPM.`
          : 'New samples are measured in the whole range.',
      );
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
  const again = () =>
    measureAgain(sampleId, range)
      .then(() => toast('Put ahead in the queue; the new readings will stand beside the old ones.'))
      .catch((error: Error) => toast.error(error.message));
  return (
    <section aria-label="Range of the tempo" className="space-y-1.5">
      <h2 className="font-semibold">Range</h2>
      <div className="flex items-center gap-1.5">
        <span className="text-ink-soft">BPM from</span>
        {(['low', 'high'] as const).map((end) => (
          <span key={end} className="contents">
            {end === 'high' && <span className="text-ink-soft">to</span>}
            <TextField
              className="figures w-14"
              inputMode="numeric"
              placeholder="any"
              aria-label={end === 'low' ? 'Lowest tempo' : 'Highest tempo'}
              aria-invalid={bad}
              value={typed[end]}
              onChange={(event) => setTyped({ ...typed, [end]: event.target.value })}
            />
          </span>
        ))}
        <Button className="ml-auto px-2" disabled={bad} onClick={() => void again()}>
          Measure again
        </Button>
      </div>
      {bad && <p className="text-one">The range runs from 20 to 500 BPM, its end above its beginning.</p>}
      <p className="flex items-center gap-2 text-tiny text-ink-soft">
        Custom of the library: {custom ? `${custom.low} to ${custom.high} BPM` : 'the whole range'}
        <Button className="ml-auto h-6" disabled={bad} onClick={() => void keep()}>
          {empty ? 'Custom: whole range' : 'Make it the custom'}
        </Button>
      </p>
    </section>
  );
}
