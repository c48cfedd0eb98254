'use client';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { ShelfFacets, ShelfView } from '@/contract/shelfQuery';
import { withoutTerms } from '@/library/search/searchTerms';
import { KIND_TEXT } from '@/words/figures';
import { fetchOverview } from '../../api/shelf';
import { Awaited } from '../../kit/States';
import { shelfParams, unordered, type askedOf } from '../useShelfQuery';
import { CountBars } from './CountBars';
import { KeyCircle } from './KeyCircle';
import { OverTime } from './OverTime';
import { TempoHistogram } from './TempoHistogram';
import { ToCheck } from './ToCheck';

interface Props {
  view: ShelfView;
  asked: ReturnType<typeof askedOf>;
  counts: ShelfFacets | undefined;
  onView: (view: ShelfView) => void;
}

/** What is found, as a whole: its tempi, keys, kinds and parts, each a filter; the library over time, and what is to be checked. */
export function ShelfOverview({ view, asked, counts, onView }: Props) {
  const query = useQuery({
    queryKey: ['shelf', 'overview', unordered(asked)],
    queryFn: ({ signal }) => fetchOverview(shelfParams(asked, {}), signal),
    placeholderData: keepPreviousData,
  });
  // What is typed into the search counts as well: a press puts itself in its place.
  const set = (patch: Partial<ShelfView>, tag?: string) =>
    onView({ ...view, ...patch, text: withoutTerms(view.text, tag ? [tag] : Object.keys(patch)) });
  const { data } = query;
  const { keyTonic: tonic, keyMode: mode, kind, tags } = asked;
  return (
    <section
      aria-label="Overview"
      className="grid h-52 shrink-0 grid-rows-[minmax(0,1fr)] grid-cols-[minmax(12rem,2fr)_11.5rem_minmax(8rem,1fr)_minmax(10rem,1fr)_minmax(9rem,1fr)] gap-x-5 overflow-x-auto border-b border-rule-strong bg-sheet px-4 py-1.5"
    >
      {!data ? (
        <div className="col-span-5">
          <Awaited of={query} what="the overview" />
        </div>
      ) : (
        <>
          <TempoHistogram
            tempi={data.tempi}
            from={asked.tempoFrom}
            to={asked.tempoTo}
            alsoHalfDouble={asked.alsoHalfDouble}
            onWindow={(window) => set({ tempoFrom: window?.from ?? null, tempoTo: window?.to ?? null })}
            onHalfDouble={(alsoHalfDouble) => set({ alsoHalfDouble })}
          />
          <KeyCircle
            keys={data.keys}
            chosen={tonic !== null && mode !== null ? { tonic, mode } : null}
            near={asked.keyNear}
            onKey={(key) => set({ keyTonic: key?.tonic ?? null, keyMode: key?.mode ?? null })}
          />
          <div className="flex min-h-0 flex-col gap-1 overflow-y-auto">
            <CountBars
              title="Kind"
              exact={data.kinds.exact}
              values={data.kinds.values.map(({ value, count }) => ({
                ...{ value, count, text: KIND_TEXT[value] ?? value, isOn: kind === value },
              }))}
              onPress={(value, isOn) => set({ kind: isOn ? null : value })}
            />
            <CountBars
              title="Part"
              exact={data.parts.exact}
              values={data.parts.values.map(({ value, count }) => ({
                ...{ value, count, text: value, isOn: tags.includes(`part:${value}`) },
              }))}
              onPress={(value, isOn) => {
                const tag = `part:${value}`;
                set({ tags: isOn ? view.tags.filter((one) => one !== tag) : [...view.tags, tag] }, tag);
              }}
            />
          </div>
          <OverTime time={data.time} />
          <ToCheck asked={asked} counts={counts} onView={set} />
        </>
      )}
    </section>
  );
}
