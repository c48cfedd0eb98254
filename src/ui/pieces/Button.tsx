import clsx from 'clsx';
import type { ButtonHTMLAttributes } from 'react';
import { keepKeysFree } from './pressedByMouse';

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  /** `strong`: the one thing to do next. */
  tone?: 'plain' | 'strong' | 'quiet';
  pressed?: boolean;
}

export function Button({ tone = 'plain', pressed, className, type = 'button', ...rest }: Props) {
  return (
    <button
      type={type}
      onMouseDown={keepKeysFree}
      // What is one of several is checked, not pressed.
      aria-pressed={rest.role === 'radio' ? undefined : pressed}
      className={clsx(
        'inline-flex h-7 items-center justify-center gap-1.5 whitespace-nowrap border px-2.5 text-small disabled:opacity-45',
        tone === 'strong' && 'border-ink bg-ink font-semibold text-paper enabled:hover:bg-ink-soft',
        tone === 'plain' &&
          (pressed
            ? 'border-ink bg-wash-ink font-semibold'
            : 'border-rule-strong bg-sheet enabled:hover:bg-wash-ink'),
        tone === 'quiet' && 'border-transparent enabled:hover:bg-wash-ink',
        className,
      )}
      {...rest}
    />
  );
}
