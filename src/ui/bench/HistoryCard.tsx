'use client';
import { notesOf } from '@/words/remarks';
import clsx from 'clsx';
import { Button } from '../pieces/Button';
import type { MadeBy } from '@/contract/entry';
import type { Bench } from './useBench';

/** What was done to the sample, newest first; any state can be gone back to, which is a change of its own. */
export function HistoryCard({ bench }: { bench: Bench }) {
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
                className="h-6 px-1.5"
                aria-label={`Back to: ${revision.words}`}
                onClick={() =>
                  void bench.order(
                    { do: 'return', sequence: revision.sequence },
                    `back to “${revision.words}”`,
                  )
                }
              >
                back to it
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
