import clsx from 'clsx';

/** How far something is; `max` is all of it. */
export function Progress({
  label,
  value,
  max = 1,
  className,
}: {
  label: string;
  value: number;
  max?: number;
  className?: string;
}) {
  return (
    <progress
      className={clsx('block h-1', className ?? 'w-full')}
      max={max}
      value={value}
      aria-label={label}
    />
  );
}
