'use client';
import clsx from 'clsx';
import { X } from 'lucide-react';
import type { ReactNode } from 'react';
import { IconButton } from '../../kit/IconButton';

interface Props {
  title: string;
  unit?: string;
  /** False: what is counted is an estimate. */
  exact: boolean;
  /** What the picture does not show. */
  note?: string;
  /** The same figures in words, for those who do not see the picture. */
  figures: readonly string[];
  /** Takes the filter away that the picture has set; null where there is none. */
  onClear?: (() => void) | null;
  className?: string;
  children: ReactNode;
}

/** One picture of the overview, with its title and its figures in words. */
export function Figure({ title, unit, exact, note, figures, onClear = null, className, children }: Props) {
  return (
    <section aria-label={title} className={clsx('flex min-w-0 flex-col', className)}>
      <h2 className="flex h-6 shrink-0 items-center gap-1.5 text-tiny text-ink-soft">
        <span className="text-small font-semibold text-ink">{title}</span>
        {unit && <span className="figures">{unit}</span>}
        {!exact && <span title="Counted in a part of the library">about</span>}
        {note && <span className="min-w-0 truncate">{note}</span>}
        {onClear && (
          <IconButton
            label={`Clear the filter of ${title.toLowerCase()}`}
            className="ml-auto"
            onClick={onClear}
          >
            <X />
          </IconButton>
        )}
      </h2>
      <div className="min-h-0 flex-1">{children}</div>
      <ul className="sr-only">
        {figures.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
    </section>
  );
}
