'use client';
import { Download, Layers, Package, TriangleAlert } from 'lucide-react';
import { whyNotTagged } from '@/library/samples/taggable';
import { originalUrl, taggedUrl } from '../api/samples';
import { usePutIntoBlend } from '../blend/putIntoBlend';
import { usePutIntoPack } from '../packs/putIntoPack';
import { Button, buttonClass } from '../kit/Button';
import { IconButton } from '../kit/IconButton';
import { againstSaving, save, useSaving } from './saving';
import { useBenchModel } from './useBenchModel';
import { useHint } from '../kit/shortcuts';
import { SAVING } from '../shortcuts/shortcutTables';

/** Saving to the Shelf, and the two downloads. */
export function SaveBar() {
  const { bench } = useBenchModel();
  const hint = useHint();
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
            ? 'The proof is out of date: the grid has changed since.'
            : 'Not checked against the click yet.'}
        </p>
      )}
      {saving.isAsking && (
        <div
          role="alertdialog"
          aria-label="Save anyway?"
          className="space-y-1.5 border border-look p-2 text-small"
        >
          <p>Save anyway? It is {againstSaving(bench).join('; ')}.</p>
          <div className="flex flex-wrap gap-1.5">
            <Button tone="strong" onClick={() => saving.confirm(false)}>
              Save
            </Button>
            <Button onClick={() => saving.confirm(true)}>Save and don’t ask again</Button>
            <Button tone="quiet" onClick={saving.leave}>
              Cancel
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
              ? void bench.order({ do: 'unsave' }, 'removed from the Shelf', 'Removed from the Shelf.')
              : save(bench)
          }
        >
          {saved ? 'Remove from Shelf' : 'Save to Shelf'}
        </Button>
        <IconButton
          label={hint(SAVING.blend)}
          className="border-rule-strong!"
          onClick={() => put([summary.sampleId])}
        >
          <Layers aria-hidden />
        </IconButton>
        <IconButton
          label={hint(SAVING.pack)}
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
          <a className={buttonClass({}, 'gap-1! px-1.5!')} href={taggedUrl(summary.sampleId)} download>
            <Download className="size-3.5" aria-hidden /> Tagged copy
          </a>
        )}
        <a className={buttonClass({}, 'gap-1! px-1.5!')} href={originalUrl(summary.sampleId)} download>
          Original
        </a>
      </div>
    </div>
  );
}
