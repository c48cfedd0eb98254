'use client';
import { RotateCw, X } from 'lucide-react';
import { useSyncExternalStore } from 'react';
import { Button } from '../pieces/Button';
import { IconButton } from '../pieces/IconButton';
import { sizeText } from '../pieces/figures';
import { uploads, type Upload } from './uploads';

const NONE: readonly Upload[] = [];

/** Files on their way in, with what became of each; nothing when there are none. */
export function UploadPanel() {
  const list = useSyncExternalStore(uploads.subscribe, uploads.getState, () => NONE);
  if (list.length === 0) return null;
  const open = list.filter(({ state }) => state === 'waiting' || state === 'sending');
  const ended = list.length - open.length;
  const failed = list.filter(({ state }) => state === 'failed').length;
  const bytes = list.reduce((sum, { byteLength }) => sum + byteLength, 0);
  const sent = list.reduce((sum, { sent: part }) => sum + part, 0);
  const telling = list.filter(
    ({ state, result }) => state !== 'done' || (result && result.outcome !== 'new'),
  );
  return (
    <section aria-label="Files on their way in" className="border-b border-rule-strong bg-sheet px-4 py-1.5">
      <div className="flex items-center gap-3 text-small">
        <span role="status" className="figures">
          {ended} of {list.length} files in{failed > 0 && `, ${failed} refused`} ({sizeText(sent)} of{' '}
          {sizeText(bytes)})
        </span>
        <progress
          className="h-1.5 flex-1 accent-one"
          max={Math.max(1, bytes)}
          value={sent}
          aria-label="Sent"
        />
        {open.length > 0 ? (
          <Button onClick={() => open.forEach(({ id }) => uploads.cancel(id))}>Cancel the rest</Button>
        ) : (
          <Button onClick={() => uploads.clear()}>Clear this list</Button>
        )}
      </div>
      {telling.length > 0 && (
        <ul className="mt-1 max-h-28 overflow-auto">
          {telling.slice(0, 100).map((upload) => (
            <li key={upload.id} className="flex h-6 items-center gap-2 text-small">
              <span className="w-72 truncate">{upload.name}</span>
              <span className={upload.state === 'failed' ? 'text-one' : 'text-ink-soft'}>
                {wordsFor(upload)}
              </span>
              <span className="ml-auto" />
              {upload.state === 'failed' && (
                <IconButton label={`Send ${upload.name} again`} onClick={() => uploads.retry(upload.id)}>
                  <RotateCw />
                </IconButton>
              )}
              {(upload.state === 'sending' || upload.state === 'waiting') && (
                <IconButton label={`Cancel ${upload.name}`} onClick={() => uploads.cancel(upload.id)}>
                  <X />
                </IconButton>
              )}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function wordsFor({ state, sent, byteLength, message, result }: Upload): string {
  if (state === 'failed') return message ?? 'refused';
  if (state === 'cancelled') return 'cancelled';
  if (state === 'sending')
    return `${Math.round((100 * sent) / Math.max(1, byteLength))} % of ${sizeText(byteLength)}`;
  if (state === 'waiting') return 'waiting';
  if (result?.outcome === 'already here') return 'is here already, nothing was stored again';
  if (result?.outcome === 'duplicate')
    return `has the same bytes as “${result.sameAs}”; they are stored once`;
  return 'taken in';
}
