import clsx from 'clsx';
import type { ButtonHTMLAttributes } from 'react';
import { keepKeysFree } from './pressedByMouse';

interface Look {
  /** `strong`: the main action. `quiet`: without a frame. */
  tone?: 'plain' | 'strong' | 'quiet';
  small?: boolean;
  pressed?: boolean;
}

/** How a button looks; also for links and for buttons of other packages. */
export const buttonClass = ({ tone = 'plain', small, pressed }: Look = {}, more?: string): string =>
  clsx(
    'inline-flex items-center justify-center gap-1.5 border text-small whitespace-nowrap disabled:opacity-45',
    small ? 'h-6 px-1.5' : 'h-7 px-2.5',
    tone === 'strong' && 'border-ink bg-ink font-semibold text-paper enabled:hover:bg-ink-soft',
    tone === 'plain' &&
      (pressed
        ? 'border-ink bg-wash-ink font-semibold'
        : 'border-rule-strong bg-sheet not-disabled:hover:bg-wash-ink'),
    tone === 'quiet' && 'border-transparent enabled:hover:bg-wash-ink',
    more,
  );

type Props = ButtonHTMLAttributes<HTMLButtonElement> & Look;

export function Button({ tone, small, pressed, className, type = 'button', ...rest }: Props) {
  return (
    <button
      type={type}
      onMouseDown={keepKeysFree}
      // A radio button is checked, not pressed.
      aria-pressed={rest.role === 'radio' ? undefined : pressed}
      className={buttonClass({ tone, small, pressed }, className)}
      {...rest}
    />
  );
}

/** A button in running text. */
export function TextButton({ className, ...rest }: ButtonHTMLAttributes<HTMLButtonElement>) {
  return (
    <button
      type="button"
      onMouseDown={keepKeysFree}
      className={clsx('underline underline-offset-2 hover:text-trace', className)}
      {...rest}
    />
  );
}
