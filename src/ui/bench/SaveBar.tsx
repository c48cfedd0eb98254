'use client';
import { Download, Layers, Package, TriangleAlert } from 'lucide-react';
import { whyNotTagged } from '@/library/samples/taggable';
import { originalUrl, taggedUrl } from '../api/samples';
import { usePutIntoBlend } from '../blend/putIntoBlend';
import { usePutIntoPack } from '../packs/putIntoPack';
import { Button } from '../pieces/Button';
import { IconButton } from '../pieces/IconButton';
import { againstSaving, save, useSaving } from './saving';
import type { Bench } from './useBench';

/** Saving to the Shelf, and the two downloads. */
export function SaveBar({ bench }: { bench: Bench }) {
  const { summary, settled } = bench.entry;
  const saved = summary.standing === 'saved';
  const proved = summary.proof === 'current';
  const lost = summary.proof === 'lost';
  const saving = useSaving(bench);
  const put = usePutIntoBlend();
  const intoPack = usePutIntoPack();
  const whyNot = whyNotTagged(summary, settled.grid !== null);
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
      {saving.isAsking && (
        <div
          role="alertdialog"
          aria-label="Save it all the same?"
          className="space-y-1.5 border border-look p-2 text-small"
        >
          <p>Save it all the same? It is {againstSaving(bench).join('; ')}.</p>
          <div className="flex flex-wrap gap-1.5">
            <Button tone="strong" onClick={() => saving.confirm(false)}>
              Save it
            </Button>
            <Button onClick={() => saving.confirm(true)}>Save, and do not ask again</Button>
            <Button tone="quiet" onClick={saving.leave}>
              Not yet
            </Button>
          </div>
        </div>
      )}
      <div className="flex gap-1">
        <Button
          tone={saved ? 'plain' : 'strong'}
          className="flex-1 px-1!"
          disabled={summary.standing === 'arrived'}
          onClick={() =>
            saved
              ? void bench.order({ do: 'unsave' }, 'taken off the Shelf', 'Taken off the Shelf.')
              : save(bench)
          }
        >
          {saved ? 'Take off the Shelf' : 'Save to the Shelf'}
        </Button>
        <IconButton
          label="Into the Blend (Shift + P)"
          className="border-rule-strong!"
          onClick={() => put([summary])}
        >
          <Layers aria-hidden />
        </IconButton>
        <IconButton
          label="Into the pack (Shift + K)"
          className="border-rule-strong!"
          onClick={() => intoPack([summary.sampleId])}
        >
          <Package aria-hidden />
        </IconButton>
        {whyNot ? (
          <span className="inline-flex h-7 items-center px-1 text-tiny text-ink-soft" title={whyNot}>
            no tagged copy
          </span>
        ) : (
          <a
            className="inline-flex h-7 items-center gap-1 border border-rule-strong px-1.5 text-small whitespace-nowrap hover:bg-wash-ink"
            href={taggedUrl(summary.sampleId)}
            download
          >
            <Download className="size-3.5" aria-hidden /> Tagged copy
          </a>
        )}
        <a
          className="inline-flex h-7 items-center gap-1 border border-rule-strong px-1.5 text-small whitespace-nowrap hover:bg-wash-ink"
          href={originalUrl(summary.sampleId)}
          download
        >
          Original
        </a>
      </div>
    </div>
  );
}
