'use client';
import clsx from 'clsx';
import { keepKeysFree } from './pressedByMouse';

interface Props<V extends string> {
  label: string;
  value: V;
  tabs: readonly V[];
  text?: Readonly<Record<V, string>>;
  /** What a tab says on pointing, with its key. */
  hint?: (tab: V) => string;
  /** They share the whole width. */
  isWide?: boolean;
  className?: string;
  onChange: (tab: V) => void;
}

/** Which of several views is shown. */
export function Tabs<V extends string>(props: Props<V>) {
  const { label, value, tabs, text, hint, isWide = false, className, onChange } = props;
  return (
    <div role="tablist" aria-label={label} className={clsx('flex', className)}>
      {tabs.map((tab) => (
        <button
          key={tab}
          type="button"
          role="tab"
          aria-selected={tab === value}
          title={hint?.(tab)}
          onMouseDown={keepKeysFree}
          onClick={() => onChange(tab)}
          className={clsx(
            'border-b-2 py-1.5 text-small',
            isWide ? 'flex-1' : 'px-2.5',
            tab === value ? 'border-one font-semibold' : 'border-transparent text-ink-soft hover:text-ink',
          )}
        >
          {text?.[tab] ?? tab}
        </button>
      ))}
    </div>
  );
}
