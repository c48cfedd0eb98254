'use client';
import { Download, TriangleAlert } from 'lucide-react';
import { originalUrl, taggedUrl } from '../api/samples';
import { Button } from '../pieces/Button';
import type { Bench } from './useBench';

/** Saving to the Shelf, and the two downloads. */
export function SaveBar({ bench }: { bench: Bench }) {
  const { summary, settled } = bench.entry;
  const saved = summary.standing === 'saved';
  const proved = summary.proof === 'current';
  const lost = summary.proof === 'lost';
  return (
    <div className="shrink-0 space-y-1.5 border-t border-rule-strong bg-sheet p-3">
      {settled.grid && !proved && (
        <p className="flex items-center gap-1.5 text-tiny text-look">
          <TriangleAlert className="size-3.5 shrink-0" aria-hidden />
          {lost
            ? 'The proof is out of date: the grid was changed after it.'
            : 'Not proved against the click yet.'}
        </p>
      )}
      <div className="flex gap-1.5">
        <Button
          tone={saved ? 'plain' : 'strong'}
          className="flex-1"
          disabled={summary.standing === 'arrived'}
          onClick={() =>
            void bench.order(
              { do: saved ? 'unsave' : 'save' },
              saved ? 'taken off the Shelf' : 'saved',
              saved ? 'Taken off the Shelf.' : 'Saved to the Shelf.',
            )
          }
        >
          {saved ? 'Take off the Shelf' : 'Save to the Shelf'}
        </Button>
        <a
          className="inline-flex h-7 items-center gap-1 border border-rule-strong px-2 text-small hover:bg-wash-ink"
          href={taggedUrl(summary.sampleId)}
          download
        >
          <Download className="size-3.5" aria-hidden /> Tagged copy
        </a>
        <a
          className="inline-flex h-7 items-center gap-1 border border-rule-strong px-2 text-small hover:bg-wash-ink"
          href={originalUrl(summary.sampleId)}
          download
        >
          <Download className="size-3.5" aria-hidden /> Original
        </a>
      </div>
    </div>
  );
}
