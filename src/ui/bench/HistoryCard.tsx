'use client';
import { notesOf } from '@/words/remarks';
import clsx from 'clsx';
import { Button } from '../kit/Button';
import type { MadeBy } from '@/contract/entry';
import { useBenchModel } from './useBenchModel';

/** The history of the sample, newest first; any state can be restored, which is a step of its own. */
export function HistoryCard() {
  const { bench } = useBenchModel();
  const { history, sequence } = bench.entry;
  const notes = notesOf(bench.entry);
  return (
    <div className="space-y-3 text-small">
      {notes.length > 0 && (
        <ul className="list-disc pl-4 text-ink-soft">
          {notes.map((warning) => (
            <li key={warning}>{warning}</li>
          ))}
        </ul>
      )}
      <ol aria-label="History" reversed>
        {[...history].reverse().map((revision) => (
          <li
            key={revision.sequence}
            aria-current={revision.sequence === sequence ? 'step' : undefined}
            className={clsx(
              'group flex items-start gap-2 border-b border-rule py-1 pl-2',
              revision.sequence === sequence && 'bg-wash-ink font-semibold',
              revision.abandoned && 'text-ink-soft',
            )}
          >
            <span className="min-w-0 flex-1">
              <span className={clsx(revision.abandoned && 'line-through')}>{revision.words}</span>
              <span className="block text-tiny font-normal text-ink-soft">
                {whoText(revision.madeBy)}, {new Date(revision.madeAt).toLocaleString()}
              </span>
            </span>
            {revision.sequence !== sequence && sequence !== null && (
              <Button
                small
                aria-label={`Restore: ${revision.words}`}
                onClick={() =>
                  void bench.order(
                    { do: 'return', sequence: revision.sequence },
                    `restored “${revision.words}”`,
                  )
                }
              >
                restore
              </Button>
            )}
          </li>
        ))}
      </ol>
    </div>
  );
}

/** Who made a step, as the history says it. */
function whoText(madeBy: MadeBy | null): string {
  if (madeBy === 'measurement') return 'measurement';
  return madeBy?.name ?? 'a curator';
}
