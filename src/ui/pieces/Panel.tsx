import clsx from 'clsx';
import type { ReactNode } from 'react';

/** A sheet of paper with a title on its upper rule. */
export function Panel({
  title,
  side,
  className,
  children,
}: {
  title: string;
  side?: ReactNode;
  className?: string;
  children: ReactNode;
}) {
  return (
    <section aria-label={title} className={clsx('flex min-h-0 flex-col', className)}>
      <div className="flex min-h-7 items-baseline justify-between gap-2 border-b border-rule-strong">
        <h2 className="text-small font-semibold">{title}</h2>
        {side}
      </div>
      {children}
    </section>
  );
}
