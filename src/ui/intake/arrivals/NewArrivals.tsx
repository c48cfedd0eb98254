'use client';
import { ArrowRight, X } from 'lucide-react';
import { useState, useSyncExternalStore } from 'react';
import { counted } from '@/words/plural';
import { Button } from '../../kit/Button';
import { IconButton } from '../../kit/IconButton';
import { noUploads, uploads } from '../uploads';
import type { Arrived } from '../uploadSummary';

/** Arrivals whose line was dismissed. */
const dismissed = new Set<string>();

/** What has arrived from this page and nobody has dismissed. */
export function useNewArrivals(): { arrived: readonly Arrived[]; dismiss: () => void } {
  const { arrived, open } = useSyncExternalStore(uploads.subscribe, uploads.getState, noUploads);
  const [, draw] = useState(0);
  return {
    // Not one after the other while files are still on their way.
    arrived: open > 0 ? [] : arrived.filter(({ sampleId }) => !dismissed.has(sampleId)),
    dismiss: () => {
      for (const { sampleId } of arrived) dismissed.add(sampleId);
      draw((count) => count + 1);
    },
  };
}

interface Props extends ReturnType<typeof useNewArrivals> {
  onShow: () => void;
  onOpen: (sampleId: string) => void;
}

/** What has just arrived, wherever it stands in the list, with the way to it. */
export function NewArrivals({ arrived, dismiss, onShow, onOpen }: Props) {
  if (arrived.length === 0) return null;
  const [first, ...others] = arrived;
  return (
    <section
      aria-label="New"
      className="flex h-8 shrink-0 items-center gap-2 border-b border-rule bg-wash-good px-4 text-small"
    >
      <span role="status" className="min-w-0 truncate">
        <b className="figures">{arrived.length} new:</b> {first.name}
        {others.length > 0 && ` and ${counted(others.length, 'other', 'others')}`}
      </span>
      <Button small onClick={onShow}>
        Show
      </Button>
      <Button small onClick={() => onOpen(first.sampleId)}>
        Open {others.length > 0 && 'the first'} <ArrowRight className="size-3" aria-hidden />
      </Button>
      <IconButton label="Dismiss" className="ml-auto" onClick={dismiss}>
        <X />
      </IconButton>
    </section>
  );
}
