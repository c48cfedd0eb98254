'use client';
import { ChevronDown, ChevronUp } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import { IconButton } from '../kit/IconButton';
import { Progress } from '../kit/Progress';

interface LineProps {
  label: string;
  share: number;
  figures: ReactNode;
  paused?: boolean;
  buttons: ReactNode;
  /** What is told when it is opened. */
  more?: ReactNode;
  /** Opened by itself when something must be read. */
  urgent?: boolean;
}

/** One thing that is on its way: its name, how far it is, and what can be done about it. */
export function ProgressLine({ label, share, figures, paused, buttons, more, urgent }: LineProps) {
  const [wanted, setOpen] = useState<boolean | null>(null);
  const open = more ? (wanted ?? urgent ?? false) : false;
  return (
    <div>
      <div className="flex h-8 items-center gap-3 text-small">
        <span className="w-52 shrink-0 truncate font-medium" title={label}>
          {label}
        </span>
        <Progress
          className={`h-1.5 min-w-24 flex-1 ${paused ? 'opacity-50' : ''}`}
          value={Number.isFinite(share) ? share : 0}
          label={label}
        />
        <span role="status" className="figures min-w-72 text-ink-soft">
          {figures}
        </span>
        <span className="flex w-[5.5rem] shrink-0 justify-end">
          {more && (
            <IconButton label={open ? 'Hide files' : 'Show files'} onClick={() => setOpen(!open)}>
              {open ? <ChevronUp /> : <ChevronDown />}
            </IconButton>
          )}
          {buttons}
        </span>
      </div>
      {open && <ul className="mb-1 max-h-28 overflow-auto border-l border-rule pl-3">{more}</ul>}
    </div>
  );
}
