'use client';
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/react';
import clsx from 'clsx';
import { Check, ChevronDown } from 'lucide-react';
import { useRef } from 'react';
import { fieldClass, Labelled, smallFieldClass, type LabelPlace } from './Field';

/** What is chosen from: words, numbers, or null for none. */
export type Choice = string | number | null;

interface Props<V extends Choice> {
  label: string;
  place?: LabelPlace;
  /** undefined: nothing is chosen, and the placeholder stands there. */
  value: V | undefined;
  options: readonly V[];
  /** What an option is called: by a function, or by a table (numbers by their digits, null as "null"); as it is without one. */
  text?: ((value: V) => string) | Readonly<Record<string, string>>;
  onChange: (value: V) => void;
  isOff?: (value: V) => boolean;
  placeholder?: string;
  title?: string;
  small?: boolean;
  disabled?: boolean;
  autoFocus?: boolean;
  className?: string;
}

/** One of several, from a list that opens. */
export function Select<V extends Choice>(props: Props<V>) {
  const { label, place = 'hidden', value, options, onChange, isOff, placeholder = '', title } = props;
  const { text = String, small, disabled, autoFocus, className } = props;
  const byMouse = useRef(false);
  const button = useRef<HTMLButtonElement>(null);
  const textOf = (one: V) => (typeof text === 'function' ? text(one) : (text[String(one)] ?? String(one)));
  const shown = value === undefined ? placeholder : textOf(value);
  return (
    <Labelled label={label} place={place}>
      <Listbox
        value={value ?? null}
        disabled={disabled}
        onChange={(next) => {
          // The list gives the keyboard back to its button: the mouse leaves it to the screen's shortcuts.
          if (byMouse.current) requestAnimationFrame(() => button.current?.blur());
          onChange(next as V);
        }}
      >
        <ListboxButton
          ref={button}
          role="combobox"
          aria-label={label}
          data-value={String(value)}
          title={title}
          autoFocus={autoFocus}
          onPointerDown={() => (byMouse.current = true)}
          onKeyDown={() => (byMouse.current = false)}
          className={clsx(
            fieldClass,
            small && smallFieldClass,
            'inline-flex min-w-0 items-center gap-1 text-left text-ink enabled:hover:border-ink',
            className,
          )}
        >
          <span className={clsx('min-w-0 flex-1 truncate', value === undefined && 'text-ink-soft')}>
            {shown}
          </span>
          <ChevronDown className="size-3 shrink-0 text-ink-soft" aria-hidden />
        </ListboxButton>
        <ListboxOptions
          anchor={{ to: 'bottom start', gap: 2, padding: 4 }}
          className="z-40 min-w-(--button-width) border border-ink bg-paper py-1 text-small outline-none"
        >
          {options.map((one) => (
            <ListboxOption
              key={String(one)}
              value={one}
              data-value={String(one)}
              disabled={isOff?.(one)}
              className="flex cursor-default items-center gap-1.5 px-2 py-0.5 whitespace-nowrap data-disabled:opacity-45 data-focus:bg-wash-ink"
            >
              <Check className={clsx('size-3 shrink-0', one !== value && 'invisible')} aria-hidden />
              {textOf(one)}
            </ListboxOption>
          ))}
        </ListboxOptions>
      </Listbox>
    </Labelled>
  );
}
