'use client';
import { Radio, RadioGroup } from '@headlessui/react';
import clsx from 'clsx';
import { buttonClass } from './Button';
import { keepKeysFree } from './pressedByMouse';

interface Props<V extends string> {
  label: string;
  /** The label is only read out. */
  isBare?: boolean;
  value: V | null;
  options: readonly V[];
  text?: Readonly<Partial<Record<V, string>>>;
  titles?: Readonly<Partial<Record<V, string>>>;
  small?: boolean;
  onChange: (value: V) => void;
}

/** One of few, all in sight beside each other. */
export function Segmented<V extends string>(props: Props<V>) {
  const { label, isBare = false, value, options, text, titles, small, onChange } = props;
  return (
    <RadioGroup
      value={value ?? undefined}
      onChange={onChange}
      aria-label={label}
      className="flex items-center"
    >
      {!isBare && <span className="mr-1.5 text-ink-soft">{label}</span>}
      {options.map((one) => (
        <Radio
          key={one}
          as="button"
          type="button"
          value={one}
          title={titles?.[one]}
          onMouseDown={keepKeysFree}
          className={clsx(buttonClass({ small, pressed: one === value }), '-ml-px first-of-type:ml-0')}
        >
          {text?.[one] ?? one}
        </Radio>
      ))}
    </RadioGroup>
  );
}
