import clsx from 'clsx';
import type { ButtonHTMLAttributes } from 'react';
import { keepKeysFree } from './pressedByMouse';

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  /** What it does; read out and shown on hovering. */
  label: string;
  pressed?: boolean;
}

export function IconButton({ label, pressed, className, type = 'button', ...rest }: Props) {
  return (
    <button
      type={type}
      onMouseDown={keepKeysFree}
      aria-label={label}
      title={label}
      aria-pressed={pressed}
      className={clsx(
        'inline-flex size-7 shrink-0 items-center justify-center border disabled:opacity-40 [&_svg]:size-4',
        pressed ? 'border-ink bg-wash-ink' : 'border-transparent enabled:hover:bg-wash-ink',
        className,
      )}
      {...rest}
    />
  );
}
