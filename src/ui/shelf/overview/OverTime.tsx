'use client';
import clsx from 'clsx';
import { STATUS_TIMES, type ShelfOverview } from '@/contract/overview';
import { countText } from '@/words/figures';
import { Figure } from './Figure';

const LOOK: Readonly<Record<(typeof STATUS_TIMES)[number], string>> = {
  arrived: 'stroke-rule-strong',
  measured: 'stroke-trace-soft',
  proved: 'stroke-good',
  saved: 'stroke-trace',
};
const SWATCH: Readonly<Record<(typeof STATUS_TIMES)[number], string>> = {
  arrived: 'bg-rule-strong',
  measured: 'bg-trace-soft',
  proved: 'bg-good',
  saved: 'bg-trace',
};

/** A day, or a time of day where all of it was within two days. */
function dateText(iso: string, span: number): string {
  const form: Intl.DateTimeFormatOptions =
    span > 2 * 864e5
      ? { day: 'numeric', month: 'short', year: 'numeric' }
      : { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' };
  return new Intl.DateTimeFormat('en', form).format(new Date(iso));
}

/** How many samples had arrived, been measured, saved and proved by when, one before the other. */
export function OverTime({ time }: { time: ShelfOverview['time'] }) {
  const { counts, exact, from, to } = time;
  const span = Date.parse(to) - Date.parse(from);
  const last = (status: (typeof STATUS_TIMES)[number]) => counts[status].at(-1)!;
  const most = Math.max(...STATUS_TIMES.map(last)) || 1;
  return (
    <Figure
      title="Library over time"
      exact={exact}
      figures={STATUS_TIMES.map(
        (status) => `${status}: ${counts[status].map((count) => countText(count, exact)).join(', ')}`,
      )}
    >
      <div className="flex h-full flex-col">
        <svg
          aria-hidden
          className="min-h-0 w-full flex-1 border-b border-rule-strong"
          viewBox={`0 0 ${counts.arrived.length} 100`}
          preserveAspectRatio="none"
        >
          {STATUS_TIMES.map((status) => (
            <path
              key={status}
              className={clsx('fill-none stroke-2', LOOK[status])}
              vectorEffect="non-scaling-stroke"
              d={`M0 100 ${counts[status].map((count, i) => `V${98 - (94 * count) / most} H${i + 1}`).join(' ')}`}
            />
          ))}
        </svg>
        <p className="flex justify-between text-tiny text-ink-soft" aria-hidden>
          <span>{dateText(from, span)}</span>
          <span>{dateText(to, span)}</span>
        </p>
        <ul className="grid grid-cols-2 gap-x-3 text-tiny" aria-hidden>
          {STATUS_TIMES.map((status) => (
            <li key={status} className="flex items-center gap-1">
              <span className={clsx('size-2 shrink-0', SWATCH[status])} />
              {status} <span className="figures ml-auto text-ink-soft">{countText(last(status), exact)}</span>
            </li>
          ))}
        </ul>
      </div>
    </Figure>
  );
}
