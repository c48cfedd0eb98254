'use client';
import { useQueryClient } from '@tanstack/react-query';
import { Microscope } from 'lucide-react';
import { useRef } from 'react';
import { toast } from 'sonner';
import type { SettledState } from '@/core/library/settled';
import { changeSample } from '../api/samples';
import { entryQuery, useEntry, useOpenOnBench } from '../api/useEntry';
import { FamilyCard } from '../family/FamilyCard';
import { Button } from '../pieces/Button';
import { TagsCard } from '../tags/TagsCard';

interface Props {
  sampleId: string;
}

/** What the row in hand is tagged with and known by, to be changed where it stands. */
export function ThisOne({ sampleId }: Props) {
  const { data: entry, error } = useEntry(sampleId);
  const queries = useQueryClient();
  const openOnBench = useOpenOnBench();
  /** One change after the other: each is based on what the one before it left. */
  const chain = useRef<Promise<unknown>>(Promise.resolve());
  if (error) return <p className="text-small text-one">{error.message}</p>;
  if (!entry) return <p className="text-small text-ink-soft">Fetching …</p>;

  const { queryKey } = entryQuery(sampleId);
  const settle = (patch: Partial<SettledState>, words: string) => {
    const before = queries.getQueryData(queryKey);
    if (before) queries.setQueryData(queryKey, { ...before, settled: { ...before.settled, ...patch } });
    chain.current = chain.current.then(async () => {
      try {
        const stored = await changeSample(sampleId, null, { do: 'settle', patch, words });
        queries.setQueryData(queryKey, stored);
      } catch (failed) {
        toast.error((failed as Error).message);
        await queries.invalidateQueries({ queryKey });
      }
      await queries.invalidateQueries({ queryKey: ['shelf'] });
    });
  };
  return (
    <div className="space-y-3">
      <div>
        <h2 className="font-semibold break-words">{entry.summary.name}</h2>
        <Button className="mt-1.5 w-full" onClick={() => openOnBench(sampleId)}>
          <Microscope className="size-4" aria-hidden /> Open on the Bench
        </Button>
      </div>
      <FamilyCard sampleId={sampleId} />
      <TagsCard entry={entry} settle={settle} />
    </div>
  );
}
