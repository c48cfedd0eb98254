import clsx from 'clsx';
import type { ReactNode } from 'react';

interface Props {
  label: string;
  value: boolean;
  onValue: (value: boolean) => void;
  /** More about it, below the label. */
  about?: ReactNode;
  /** The label is only read out. */
  isBare?: boolean;
  disabled?: boolean;
  className?: string;
}

/** On or off. */
export function Checkbox({ label, value, onValue, about, isBare = false, disabled, className }: Props) {
  const box = (
    <input
      type="checkbox"
      className={clsx('shrink-0 accent-ink', !isBare && 'mt-0.5')}
      aria-label={isBare ? label : undefined}
      checked={value}
      disabled={disabled}
      onChange={({ target }) => onValue(target.checked)}
    />
  );
  if (isBare) return box;
  return (
    <label className={clsx('flex items-start gap-2', className)}>
      {box}
      <span>
        {label}
        {about && <span className="block text-tiny text-ink-soft">{about}</span>}
      </span>
    </label>
  );
}
