'use client';
import { X } from 'lucide-react';
import { LIKE_BY, type LikeBy } from '@/core/resemblance/features';
import { useEntry } from '../api/useEntry';
import { fieldClass } from '../pieces/Field';
import { IconButton } from '../pieces/IconButton';

interface Props {
  sampleId: string;
  by: LikeBy;
  onBy: (by: LikeBy) => void;
  onEnd: () => void;
}

const BY_WORDS: Readonly<Record<LikeBy, string>> = {
  all: 'all of it',
  rhythm: 'rhythm, by place in the bar',
  sound: 'sound',
  harmony: 'harmony, in any key',
};

/** To which sample the list is told by likeness, and by what. */
export function LikeBar({ sampleId, by, onBy, onEnd }: Props) {
  const { data, error } = useEntry(sampleId);
  return (
    <span className="flex min-w-0 items-center gap-2" role="group" aria-label="Likeness">
      <span className="truncate">
        {error ? (
          <span className="text-one">{error.message}</span>
        ) : (
          <>
            like <b>{data?.summary.name ?? '…'}</b> by
          </>
        )}
      </span>
      <select
        aria-label="Likeness by"
        className={fieldClass}
        value={by}
        onChange={(event) => onBy(event.target.value as LikeBy)}
      >
        {LIKE_BY.map((one) => (
          <option key={one} value={one}>
            {BY_WORDS[one]}
          </option>
        ))}
      </select>
      <IconButton label="Not by likeness any more" onClick={onEnd}>
        <X aria-hidden />
      </IconButton>
    </span>
  );
}
