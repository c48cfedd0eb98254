'use client';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import Link from 'next/link';
import { DOUBT_SORTS } from '@/contract/doubt';
import type { ShelfFacets, ShelfView } from '@/contract/shelfQuery';
import { sortWords } from '@/words/doubts';
import { countText } from '@/words/figures';
import { fetchIntakeCounts } from '../../api/intake';
import { IN_ADDRESS, WHOLE, paramsOf, type IntakeView } from '../../intake/arrivals/intakeView';
import { keepKeysFree } from '../../kit/pressedByMouse';
import { Figure } from './Figure';

interface Props {
  /** What is asked for, also by typed words. */
  asked: Pick<ShelfView, 'proof' | 'lacks'>;
  counts: ShelfFacets | undefined;
  onView: (patch: Partial<ShelfView>) => void;
}

const LINE = 'flex h-5 w-full items-center justify-between gap-2 text-left hover:bg-wash-ink';

/** What is wrong with the library as far as Grento knows: each leads to the samples that it is about. */
export function ToCheck({ asked, counts, onView }: Props) {
  const { data: intake } = useQuery({
    queryKey: ['intake', 'counts', 'whole'],
    queryFn: ({ signal }) => fetchIntakeCounts(paramsOf(WHOLE), signal),
    placeholderData: keepPreviousData,
  });
  const { facets = [], exact = true } = counts ?? {};
  const countOf = (facet: string, value: string) =>
    facets.find((one) => one.facet === facet && one.value === value)?.count ?? 0;
  const saved: { words: string; count: number; isOn: boolean; patch: Partial<ShelfView> }[] = [
    {
      words: 'saved, not proved',
      count: countOf('proof', 'unproved'),
      isOn: asked.proof === 'unproved',
      patch: { proof: asked.proof === 'unproved' ? null : 'unproved' },
    },
    ...(['licence', 'tags'] as const).map((lacks) => ({
      words: `without ${lacks}`,
      count: countOf('lacks', lacks),
      isOn: asked.lacks === lacks,
      patch: { lacks: asked.lacks === lacks ? null : lacks },
    })),
  ];
  const shown = (show: IntakeView['show']) => `/intake?${IN_ADDRESS.write({ ...WHOLE, show })}`;
  const links = (lines: { words: string; count: number; href: string }[]) =>
    lines.filter(({ count }) => count > 0);
  const elsewhere = [
    {
      title: 'in the Intake',
      lines: links([
        { words: 'duplicates', count: intake?.['alike pairs'] ?? 0, href: '/intake/alike' },
        { words: 'cannot be read', count: intake?.faulty ?? 0, href: shown('faulty') },
      ]),
    },
    {
      title: 'uncertain',
      lines: links(
        DOUBT_SORTS.map((sort) => ({
          words: sortWords(sort),
          count: intake?.[sort] ?? 0,
          href: shown(sort),
        })),
      ).sort((a, b) => b.count - a.count),
    },
  ].filter(({ lines }) => lines.length > 0);
  const isSound = saved.every(({ count, isOn }) => count === 0 && !isOn) && elsewhere.length === 0;
  return (
    <Figure title="To check" exact figures={[]}>
      <div className="h-full overflow-y-auto text-tiny">
        {isSound && <p className="text-ink-soft">Nothing that Grento knows of.</p>}
        {saved
          .filter(({ count, isOn }) => count > 0 || isOn)
          .map(({ words, count, isOn, patch }) => (
            <button
              key={words}
              type="button"
              aria-pressed={isOn}
              onMouseDown={keepKeysFree}
              onClick={() => onView(patch)}
              className={clsx(LINE, isOn && 'font-semibold')}
            >
              {words} <span className="figures text-ink-soft">{countText(count, exact)}</span>
            </button>
          ))}
        {elsewhere.map(({ title, lines }) => (
          <div key={title}>
            <p className="mt-1 border-t border-rule pt-0.5 text-ink-soft">{title}</p>
            {lines.map(({ words, count, href }) => (
              <Link key={words} href={href} className={LINE}>
                {words} <span className="figures text-ink-soft">{count.toLocaleString('en')}</span>
              </Link>
            ))}
          </div>
        ))}
      </div>
    </Figure>
  );
}
