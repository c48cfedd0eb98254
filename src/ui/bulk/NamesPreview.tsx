'use client';
import { counted } from '@/words/plural';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { useDeferredValue, useMemo } from 'react';
import type { NamesRequest } from '@/contract/names';
import type { Target } from '@/contract/orders';
import { MOST_RENDERS } from '@/contract/renders';
import { fetchNames } from '../api/samples';

interface Props {
  targets: readonly Target[];
  template: string;
  /** What is rendered at it is named; null: the samples themselves. */
  target: NamesRequest['target'];
  /** What is said of those whose name stays. */
  staying: string;
}

/** Every name that is concerned, before anything is done: what it is and what it becomes. */
export function NamesPreview({ targets, template, target, staying }: Props) {
  const request = useMemo(
    () => ({ sampleIds: targets.slice(0, MOST_RENDERS).map(({ sampleId }) => sampleId), template, target }),
    [targets, template, target],
  );
  const asked = useDeferredValue(request);
  const { data, error } = useQuery({
    queryKey: ['names', asked],
    queryFn: ({ signal }) => fetchNames(asked, signal),
    enabled: asked.template.trim() !== '',
    placeholderData: keepPreviousData,
  });
  if (error) return <p className="text-one">{error.message}</p>;
  if (!data) return null;
  const changed = data.rows.filter(({ after, fault }) => after !== null || fault !== null);
  const stays = data.rows.length - changed.length;
  const more = targets.length - data.rows.length;
  return (
    <div className="min-w-0 flex-1 text-tiny" role="group" aria-label="Names">
      <ul className="max-h-24 overflow-y-auto">
        {changed.map(({ sampleId, before, after, fault, isDouble }) => (
          <li key={sampleId} className="flex gap-2 whitespace-nowrap">
            <span className="min-w-0 flex-1 truncate text-ink-soft" title={before}>
              {before}
            </span>
            <span aria-hidden>→</span>
            <span
              className={clsx('min-w-0 flex-1 truncate', fault ? 'text-one' : isDouble && 'text-look')}
              title={after ?? fault ?? undefined}
            >
              {after ?? fault}
              {isDouble && ' (name already used)'}
            </span>
          </li>
        ))}
      </ul>
      <p className="text-ink-soft">
        {stays > 0 && `${counted(stays, 'stays', 'stay')} ${staying}. `}
        {more > 0 && `${more} more follow the same pattern.`}
      </p>
    </div>
  );
}
