'use client';
import { X } from 'lucide-react';
import { LIKE_BY, type LikeBy } from '@/core/resemblance/features';
import { useEntry } from '../api/useEntry';
import { IconButton } from '../kit/IconButton';
import { Select } from '../kit/Select';

interface Props {
  sampleId: string;
  by: LikeBy;
  onBy: (by: LikeBy) => void;
  onEnd: () => void;
}

const BY_WORDS: Readonly<Record<LikeBy, string>> = {
  all: 'everything',
  rhythm: 'rhythm',
  sound: 'sound',
  harmony: 'harmony (any key)',
};

/** To which sample the listed ones are similar, and by what. */
export function SimilarBar({ sampleId, by, onBy, onEnd }: Props) {
  const { data, error } = useEntry(sampleId);
  return (
    <span className="flex min-w-0 items-center gap-2" role="group" aria-label="Similarity">
      <span className="truncate">
        {error ? (
          <span className="text-one">{error.message}</span>
        ) : (
          <>
            similar to <b>{data?.summary.name ?? '…'}</b> by
          </>
        )}
      </span>
      <Select label="Similar by" value={by} options={LIKE_BY} text={BY_WORDS} onChange={onBy} />
      <IconButton label="Clear similar" onClick={onEnd}>
        <X aria-hidden />
      </IconButton>
    </span>
  );
}
