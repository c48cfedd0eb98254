import clsx from 'clsx';
import type { InputHTMLAttributes, ReactNode, Ref } from 'react';

export const fieldClass =
  'h-7 border border-rule-strong bg-sheet px-2 text-small placeholder:text-ink-soft/80 aria-invalid:border-one disabled:opacity-50';

/** A label above or beside its control. */
export function Labelled({
  label,
  inline,
  className,
  children,
}: {
  label: string;
  inline?: boolean;
  className?: string;
  children: ReactNode;
}) {
  return (
    <label
      className={clsx(inline ? 'flex items-center gap-2' : 'flex flex-col gap-0.5', 'text-small', className)}
    >
      <span className="text-ink-soft">{label}</span>
      {children}
    </label>
  );
}

export function TextField({
  className,
  ...rest
}: InputHTMLAttributes<HTMLInputElement> & { ref?: Ref<HTMLInputElement> }) {
  return <input className={clsx(fieldClass, className)} autoComplete="off" spellCheck={false} {...rest} />;
}
