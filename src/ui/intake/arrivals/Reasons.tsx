import clsx from 'clsx';
import { DOUBT_SORTS, TO_DO_SORTS } from '@/contract/doubt';
import { sortWords } from '@/words/doubts';
import type { IntakeQuery } from '@/contract/shelfQuery';
import { keepKeysFree } from '../../kit/pressedByMouse';

const LEVELS = [
  {
    words: 'uncertain:',
    sorts: DOUBT_SORTS,
    all: 'needs a look',
    pressed: 'border-look font-semibold text-look',
  },
  { words: 'to do:', sorts: TO_DO_SORTS, all: 'to do', pressed: 'border-ink font-semibold text-ink' },
] as const;

/** Why rows need a look, and what waits to be done: each with its count, and a press that shows only these. */
export function Reasons({
  counts,
  shown,
  onShow,
}: {
  counts: Record<string, number>;
  shown: IntakeQuery['show'];
  onShow: (value: IntakeQuery['show']) => void;
}) {
  const levels = LEVELS.map((level) => ({
    ...level,
    sorts: level.sorts.filter((sort) => (counts[sort] ?? 0) > 0 || shown === sort),
  })).filter(({ sorts }) => sorts.length > 0);
  if (levels.length === 0) return null;
  return (
    <div
      role="group"
      aria-label="Reasons"
      className="flex flex-wrap items-center gap-x-4 py-0.5 text-tiny text-ink-soft"
    >
      {levels.map(({ words, sorts, all, pressed }) => (
        <div key={words} className="flex flex-wrap items-center gap-x-4">
          <span className="font-semibold">{words}</span>
          {sorts.map((sort) => (
            <button
              key={sort}
              type="button"
              aria-pressed={shown === sort}
              onMouseDown={keepKeysFree}
              className={clsx('border-b hover:text-ink', shown === sort ? pressed : 'border-transparent')}
              onClick={() => onShow(shown === sort ? all : sort)}
            >
              {sortWords(sort)} <span className="figures">{(counts[sort] ?? 0).toLocaleString('en')}</span>
            </button>
          ))}
        </div>
      ))}
    </div>
  );
}
