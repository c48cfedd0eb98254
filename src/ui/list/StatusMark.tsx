import clsx from 'clsx';
import { Check, CircleDashed, Gauge, ShieldCheck } from 'lucide-react';
import type { Status } from '@/contract/entry';

const SHOWN: Record<Status, { icon: typeof Check; tone: string }> = {
  arrived: { icon: CircleDashed, tone: 'text-ink-soft' },
  measured: { icon: Gauge, tone: 'text-ink' },
  proved: { icon: ShieldCheck, tone: 'text-good' },
  saved: { icon: Check, tone: 'text-good font-semibold' },
};

/** How far a sample has come, as a mark and a word. */
export function StatusMark({ standing }: { standing: Status }) {
  const { icon: Icon, tone } = SHOWN[standing];
  return (
    <span className={clsx('inline-flex items-center gap-1', tone)}>
      <Icon className="size-3.5" aria-hidden />
      {standing}
    </span>
  );
}
