'use client';
import { Microscope } from 'lucide-react';
import type { SettledState } from '@/contract/settled';
import { useEntry, useOpenOnBench } from '../api/useEntry';
import { outboxOf } from '../outbox/sampleOutbox';
import { useOutbox } from '../bench/useOutbox';
import { FamilyCard } from '../family/FamilyCard';
import { Button } from '../kit/Button';
import { TagsCard } from '../tags/TagsCard';

interface Props {
  sampleId: string;
}

/** What the row selected is tagged with and known by, to be changed where it stands. */
export function SampleDetails({ sampleId }: Props) {
  const { data: stored, error } = useEntry(sampleId);
  const { entry, isKnown, send } = useOutbox(sampleId, stored);
  const openOnBench = useOpenOnBench();
  if (error) return <p className="text-small text-one">{error.message}</p>;
  if (!entry) return <p className="text-small text-ink-soft">Loading…</p>;

  const settle = (patch: Partial<SettledState>, words: string) => {
    const base = outboxOf(sampleId).baseNow(entry.sequence, isKnown);
    void send({ do: 'settle', words, patch, reading: null }, words, base);
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
