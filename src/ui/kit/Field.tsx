import clsx from 'clsx';
import type { InputHTMLAttributes, ReactNode, Ref } from 'react';

export const fieldClass =
  'h-7 border border-rule-strong bg-sheet px-2 text-small placeholder:text-ink-soft/80 aria-invalid:border-one disabled:opacity-50';
export const smallFieldClass = 'h-6! px-1!';

/** Where the label of a field stands; `hidden`: it is only read out. */
export type LabelPlace = 'above' | 'beside' | 'column' | 'hidden';

interface Labels {
  label: string;
  place?: LabelPlace;
  title?: string;
  className?: string;
  children: ReactNode;
}

/** A field with its label: above it, beside it, or beside it in a column of labels of one width. */
export function Labelled({ label, place = 'above', title, className, children }: Labels) {
  if (place === 'hidden') return children;
  return (
    <label
      title={title}
      className={clsx(
        'text-small',
        place === 'above' ? 'flex flex-col' : 'flex flex-wrap items-center gap-1.5',
        className,
      )}
    >
      <span
        className={clsx(
          'text-ink-soft',
          place === 'above' && 'text-tiny',
          place === 'column' && 'w-20 shrink-0',
        )}
      >
        {label}
      </span>
      {children}
    </label>
  );
}

type Text = InputHTMLAttributes<HTMLInputElement> & { ref?: Ref<HTMLInputElement>; small?: boolean };

export function TextField({ className, small, ...rest }: Text) {
  return (
    <input
      className={clsx(fieldClass, small && smallFieldClass, className)}
      autoComplete="off"
      spellCheck={false}
      {...rest}
    />
  );
}

interface LongText {
  label: string;
  value: string;
  maxLength: number;
  className?: string;
  onSet: (text: string) => void;
}

/** Several lines of text, taken when the field is left. */
export function TextArea({ label, value, maxLength, className, onSet }: LongText) {
  return (
    <Labelled label={label}>
      <textarea
        // Another value by undo, or by somebody else, replaces what is shown.
        key={value}
        className={clsx(fieldClass, 'resize-none py-1', className)}
        maxLength={maxLength}
        defaultValue={value}
        onBlur={({ target }) => {
          const text = target.value.trim();
          if (text !== value) onSet(text);
        }}
      />
    </Labelled>
  );
}
