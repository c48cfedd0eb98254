'use client';
import { Popover, PopoverButton, PopoverPanel, type PopoverPanelProps } from '@headlessui/react';
import clsx from 'clsx';
import type { ReactNode } from 'react';
import { buttonClass } from './Button';
import { keepKeysFree } from './pressedByMouse';

interface Props {
  /** What stands on the button that opens it. */
  button: ReactNode;
  /** What the button is called where its content does not say it. */
  label?: string;
  title?: string;
  tone?: 'plain' | 'strong' | 'quiet';
  small?: boolean;
  disabled?: boolean;
  buttonClassName?: string;
  className?: string;
  to?: 'bottom end' | 'bottom start' | 'top end';
  /** Its own width, such as `w-80`. */
  width: string;
  children: ReactNode | ((close: () => void) => ReactNode);
}

/** A panel that opens beside its button, and closes by Escape or a press elsewhere. */
export function Popup(props: Props) {
  const { button, label, title, tone, small, disabled, buttonClassName, className, width, children } = props;
  const anchor: PopoverPanelProps['anchor'] = { to: props.to ?? 'bottom end', gap: 4, padding: 4 };
  return (
    <Popover className={clsx('relative', className)}>
      <PopoverButton
        onMouseDown={keepKeysFree}
        aria-label={label}
        title={title}
        disabled={disabled}
        className={buttonClass({ tone, small }, buttonClassName)}
      >
        {button}
      </PopoverButton>
      <PopoverPanel
        anchor={anchor}
        className={clsx('z-30 space-y-2 border border-ink bg-paper p-3 text-small', width)}
      >
        {({ close }) => <>{typeof children === 'function' ? children(close) : children}</>}
      </PopoverPanel>
    </Popover>
  );
}
