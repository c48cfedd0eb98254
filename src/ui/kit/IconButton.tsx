import clsx from 'clsx';
import type { ButtonHTMLAttributes, ReactNode } from 'react';
import { keepKeysFree } from './pressedByMouse';

const iconClass = (pressed?: boolean, className?: string, small?: boolean) =>
  clsx(
    'inline-flex shrink-0 items-center justify-center border disabled:opacity-40 aria-disabled:opacity-40 [&_svg]:size-4',
    small ? 'size-6' : 'size-7',
    pressed
      ? 'border-ink bg-wash-ink'
      : 'border-transparent not-disabled:not-aria-disabled:hover:bg-wash-ink',
    className,
  );

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  /** What it does; read out and shown on pointing. */
  label: string;
  pressed?: boolean;
  small?: boolean;
}

export function IconButton({ label, pressed, small, className, type = 'button', ...rest }: Props) {
  return (
    <button
      type={type}
      onMouseDown={keepKeysFree}
      aria-label={label}
      title={label}
      aria-pressed={pressed}
      className={iconClass(pressed, className, small)}
      {...rest}
    />
  );
}

/** A download as an icon; without an address it is off, and the label says why. */
export function IconLink({ label, href, children }: { label: string; href?: string; children: ReactNode }) {
  return (
    <a
      href={href}
      download
      tabIndex={-1}
      role="link"
      aria-label={label}
      aria-disabled={href === undefined}
      title={label}
      className={iconClass()}
      onClick={(event) => event.stopPropagation()}
    >
      {children}
    </a>
  );
}
