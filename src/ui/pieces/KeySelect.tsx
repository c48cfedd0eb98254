import clsx from 'clsx';
import { ALL_KEYS, keyLabel, type Key } from '@/core/harmony/keyNames';
import { fieldClass } from './Field';

interface Props {
  value: Key | null;
  onChange: (key: Key | null) => void;
  /** What stands for none; null: none cannot be chosen. */
  none: string | null;
  label?: string;
  className?: string;
}

/** One of the 24 keys, or none. */
export function KeySelect({ value, onChange, none, label, className }: Props) {
  return (
    <select
      aria-label={label}
      className={clsx(fieldClass, className)}
      value={value ? keyLabel(value) : ''}
      onChange={(event) => onChange(ALL_KEYS.find((one) => keyLabel(one) === event.target.value) ?? null)}
    >
      {none !== null && <option value="">{none}</option>}
      {ALL_KEYS.map((one) => (
        <option key={keyLabel(one)}>{keyLabel(one)}</option>
      ))}
    </select>
  );
}
