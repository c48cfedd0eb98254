'use client';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { tempoRange } from '@/contract/settings';
import { measureAgain } from '../../api/samples';
import { fetchSettings, writeSettings } from '../../api/settings';
import { Button } from '../../kit/Button';
import { TextField } from '../../kit/Field';
import { useAction } from '../../kit/useAction';

/** A range that the tempo must lie in: for measuring this sample again, or as the library's default. */
export function RangePart({ sampleId }: { sampleId: string }) {
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
  const keep = useAction({
    run: () => writeSettings({ tempoRange: range }),
    renews: ['settings'],
    says: () =>
      range
        ? `New samples are measured from ${range.low} to ${range.high} BPM.`
        : 'New samples are measured in the full tempo range.',
  });
  const again = useAction({
    run: () => measureAgain(sampleId, range),
    says: () => 'Moved to the front of the queue; new readings are added to the old ones.',
  });
  return (
    <section aria-label="Tempo range" className="space-y-1.5">
      <h2 className="font-semibold">Tempo range</h2>
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
        <Button className="ml-auto px-2" disabled={bad} onClick={() => again.act()}>
          Measure again
        </Button>
      </div>
      {bad && <p className="text-one">Enter a range within 20 to 500 BPM, the lower tempo first.</p>}
      <p className="flex items-center gap-2 text-tiny text-ink-soft">
        Library default: {custom ? `${custom.low} to ${custom.high} BPM` : 'full range'}
        <Button small className="ml-auto" disabled={bad} onClick={() => keep.act()}>
          {empty ? 'Full range as default' : 'Save as library default'}
        </Button>
      </p>
    </section>
  );
}
