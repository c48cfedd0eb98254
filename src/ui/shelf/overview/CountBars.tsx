'use client';
import clsx from 'clsx';
import { max } from 'd3-array';
import { countText } from '@/words/figures';
import { counted } from '@/words/plural';
import { keepKeysFree } from '../../kit/pressedByMouse';
import { Figure } from './Figure';

interface Props {
  title: string;
  exact: boolean;
  values: readonly { value: string; text: string; count: number; isOn: boolean }[];
  onPress: (value: string, isOn: boolean) => void;
  className?: string;
}

/** How many samples have each of a few values, as bars; a press lists these alone. */
export function CountBars({ title, exact, values, onPress, className }: Props) {
  const most = max(values, ({ count }) => count) || 1;
  if (values.length === 0) return null;
  const isAnyOn = values.some(({ isOn }) => isOn);
  return (
    <Figure title={title} exact={exact} figures={[]} className={className}>
      {values.map(({ value, text, count, isOn }) => (
        <button
          key={value}
          type="button"
          aria-pressed={isOn}
          aria-label={`${text}: ${counted(count, 'sample')}`}
          onMouseDown={keepKeysFree}
          onClick={() => onPress(value, isOn)}
          className={clsx(
            'flex h-5 w-full items-center gap-2 text-left text-tiny hover:bg-wash-ink',
            isOn && 'font-semibold',
          )}
        >
          <span className="w-14 shrink-0 truncate">{text}</span>
          <span className="h-3 min-w-0 flex-1" aria-hidden>
            <span
              className={clsx('block h-full', !isAnyOn || isOn ? 'bg-trace' : 'bg-trace-soft')}
              style={{ width: `max(1px, ${(100 * count) / most}%)` }}
            />
          </span>
          <span className="figures w-8 shrink-0 text-right text-ink-soft">{countText(count, exact)}</span>
        </button>
      ))}
    </Figure>
  );
}
