'use client';
import { ALL_KEYS, keyLabel, type Key } from '@/core/harmony/keyNames';
import type { LabelPlace } from './Field';
import { Select } from './Select';

interface Props {
  label: string;
  place?: LabelPlace;
  value: Key | null;
  /** What stands for no key; null: no key cannot be chosen. */
  none: string | null;
  /** What stands there when nothing is chosen; then no key is no choice of its own. */
  placeholder?: string;
  small?: boolean;
  className?: string;
  onChange: (key: Key | null) => void;
}

const KEYS = ALL_KEYS.map(keyLabel);

/** One of the 24 keys, or none. */
export function KeySelect({ value, none, placeholder, onChange, ...rest }: Props) {
  const label = value ? keyLabel(value) : null;
  return (
    <Select
      {...rest}
      placeholder={placeholder}
      value={label === null && (placeholder !== undefined || none === null) ? undefined : label}
      options={none === null ? KEYS : [null, ...KEYS]}
      text={(one) => one ?? none!}
      onChange={(next) => onChange(ALL_KEYS.find((one) => keyLabel(one) === next) ?? null)}
    />
  );
}
